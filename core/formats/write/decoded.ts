/**
 * A canonical path as servers compare it: decoded, where ours keeps escapes of blanks and of reserved characters
 * (RFC 3986 §2.2).
 */
export const asCompared = (canonical: string): string =>
  canonical.replace(/%([0-9A-Fa-f]{2})/g, (_, hex: string) => String.fromCharCode(parseInt(hex, 16)))

/** A hexadecimal digit as an expression writes it: a set of it, in both capitals where these do not matter. */
const DIGIT = String.raw`\[([0-9A-Fa-f])[a-f]?\]`
const ESCAPE = new RegExp(String.raw`\[\\x25\]${DIGIT}${DIGIT}`, 'g')

/** The same of an expression over canonical paths, which writes each character as a set. */
export const decodedSource = (expression: string): string =>
  expression.replace(ESCAPE, (_, first: string, second: string) => `[\\x${(first + second).toLowerCase()}]`)
