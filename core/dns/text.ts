/**
 * The octets of a character-string as written, quoted or not, with `\X` and `\DDD` taken (RFC 1035 §5.1); one character
 * an octet.
 */
export function unescapeString(written: string): string {
  return written.replace(/\\(\d{3}|[\s\S])/g, (_, escaped: string) =>
    escaped.length === 3 ? String.fromCharCode(Number(escaped) & 255) : escaped,
  )
}

/** Octets as a quoted character-string, in printable ASCII only. */
export function quoteString(octets: string): string {
  let text = ''
  for (const character of octets) {
    const code = character.charCodeAt(0)
    text +=
      character === '"' || character === '\\'
        ? '\\' + character
        : code < 32 || code > 126
          ? '\\' + String(code).padStart(3, '0')
          : character
  }
  return `"${text}"`
}

/** Splits record data in Fides's own form into its pieces; quoted pieces keep their quotes. */
export const splitData = (data: string): string[] =>
  data.match(/"(?:\\[\s\S]|[^"\\])*"|(?:\\[\s\S]|[^\s"\\])+(?:"(?:\\[\s\S]|[^"\\])*")?/g) ?? []

export const octetsOf = (text: string): Uint8Array =>
  Uint8Array.from(text, (character) => character.charCodeAt(0) & 255)
export const textOf = (octets: Uint8Array): string => {
  let text = ''
  for (const octet of octets) text += String.fromCharCode(octet)
  return text
}
