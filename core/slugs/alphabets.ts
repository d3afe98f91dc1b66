/** Lower-case letters and digits without `i l 1 o 0` (common practice, no source). */
export const UNMISTAKABLE = 'abcdefghjkmnpqrstuvwxyz23456789'

const LOWER = 'abcdefghijklmnopqrstuvwxyz'
const DIGITS = '0123456789'

/** The alphabets a domain may choose; `own` is spelled out by the administrator. Separators stand beside them. */
export const ALPHABETS = ['letters', 'lower', 'unmistakable', 'own'] as const
export type AlphabetName = (typeof ALPHABETS)[number]

/** The characters of a preset. */
export const PRESETS: Record<Exclude<AlphabetName, 'own'>, string> = {
  letters: LOWER.toUpperCase() + LOWER + DIGITS,
  lower: LOWER + DIGITS,
  unmistakable: UNMISTAKABLE,
}

/**
 * Characters that may separate words within a slug: the unreserved ones that are neither letter nor digit (RFC 3986
 * §2.3).
 */
export const SEPARATORS = '-._~'
