/** Lower-case letters and digits without `i l 1 o 0` (common practice, no source). */
export const UNMISTAKABLE = 'abcdefghjkmnpqrstuvwxyz23456789'

/**
 * A random slug of `length` characters from `alphabet` (at most 256), each equally likely: octets that would favour
 * the alphabet's first characters are drawn again. `randomBytes` must be a cryptographic source.
 */
export function randomSlug(alphabet: string, length: number, randomBytes: (count: number) => Uint8Array): string {
  const bound = 256 - (256 % alphabet.length)
  let slug = ''
  while (slug.length < length) {
    for (const octet of randomBytes(length)) {
      if (octet < bound && slug.length < length) slug += alphabet[octet % alphabet.length]
    }
  }
  return slug
}
