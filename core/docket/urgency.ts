/** What the urgency of a case follows from. */
export interface UrgencyFacts {
  /** Visits a day affected. */
  impact: number
  /** The part of them that is harmed. */
  share: number
  /** When its harm begins, in milliseconds; `null` where it is there already. */
  harmAt: number | null
  /** What it would take cannot be given back. */
  irrevocable: boolean
}

const DAY_MS = 86_400_000
/** A harm this many days ahead counts whole. */
const NEAR_DAYS = 3

/** How near a harm is: 1 where it is now, for a date 3 ÷ days left, at most 1 (semantics §14). */
export const nearness = (harmAt: number | null, now: number): number =>
  harmAt === null ? 1 : Math.min(1, NEAR_DAYS / Math.max(NEAR_DAYS, (harmAt - now) / DAY_MS))

/** Urgency = visits a day affected × share of them harmed × nearness; what cannot be taken back counts double. */
export const urgencyOf = ({ impact, share, harmAt, irrevocable }: UrgencyFacts, now: number): number =>
  impact * share * nearness(harmAt, now) * (irrevocable ? 2 : 1)

const number = (value: number) =>
  value >= 10 ? Math.round(value).toLocaleString('en') : String(Math.round(value * 100) / 100)

/** How a case's urgency is reckoned, in words. */
export function reckoning(facts: UrgencyFacts, now: number): string {
  const { impact, share, harmAt, irrevocable } = facts
  const near = nearness(harmAt, now)
  const days = harmAt === null ? 0 : Math.max(0, Math.ceil((harmAt - now) / DAY_MS))
  const parts = [
    `${number(impact)} visits a day`,
    `${number(share * 100)}% affected`,
    harmAt === null ? 'now' : `nearness ${number(near)} (${days} ${days === 1 ? 'day' : 'days'} left)`,
    ...(irrevocable ? ['2, because it cannot be undone'] : []),
  ]
  return `${parts.join(' × ')} = urgency ${number(urgencyOf(facts, now))}`
}
