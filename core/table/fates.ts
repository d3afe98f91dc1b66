/** What becomes of a request under another table; the gravest holds. */
export const FATES = ['loop', 'lost', 'elsewhere', 'served', 'status', 'missing', 'same'] as const
export type Fate =
  /** It leads in a circle, and did not before. */
  | 'loop'
  /** It found something, and does not any more. */
  | 'lost'
  /** It ends at another address. */
  | 'elsewhere'
  /** It found nothing, and now does. */
  | 'served'
  /** It ends at the same address, by another status. */
  | 'status'
  /** It finds nothing, as before. */
  | 'missing'
  | 'same'
