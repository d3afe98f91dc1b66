/**
 * A random slug of `length` characters from `alphabet` (at most 65,536 of them), each equally likely: draws that would
 * favour the alphabet's first characters are thrown away. `randomBytes` must be a cryptographic source.
 */
export function randomSlug(alphabet: string, length: number, randomBytes: (count: number) => Uint8Array): string {
  const characters = [...alphabet]
  const bound = 65_536 - (65_536 % characters.length)
  let slug = ''
  for (let drawn = 0; drawn < length;) {
    const octets = randomBytes(2 * length)
    for (let at = 0; at < octets.length && drawn < length; at += 2) {
      const draw = (octets[at]! << 8) | octets[at + 1]!
      if (draw >= bound) continue
      slug += characters[draw % characters.length]
      drawn++
    }
  }
  return slug
}
