import { isAtOrBelow, parentOf, readName, relativeName, type DnsName } from '../name'
import { scan } from './scan'

/**
 * The zone a master file is of, as the file itself says: the owner of its SOA where that is absolute, else the
 * $ORIGIN in force there. `undefined` where the file leaves it open, or names a zone that `host` is not in.
 */
export function originInFile(text: string, host: DnsName): DnsName | undefined {
  let origin: DnsName | undefined
  for (const { tokens, blank } of scan(text)) {
    const words = tokens.map((token) => token.text)
    const absolute = (word: string | undefined) => {
      const reading =
        word !== undefined && (word.endsWith('.') || origin !== undefined) ? readName(word, origin) : undefined
      return reading?.ok ? reading.name : undefined
    }
    if (!blank && words[0]?.toUpperCase() === '$ORIGIN') origin = absolute(words[1]) ?? origin
    else if (words.slice(0, 4).some((word) => word.toUpperCase() === 'SOA')) {
      const owner = blank ? origin : words[0] === '@' ? origin : absolute(words[0])
      return owner !== undefined && isAtOrBelow(host, owner) ? owner : undefined
    }
  }
  return undefined
}

/** What a file's SOA says of itself as written: names may be relative to a zone it does not name. */
export interface WrittenSoa {
  primary: string
  mailbox: string
}

/** The first SOA of a master file, as written; `undefined` where there is none. */
export function soaInFile(text: string): WrittenSoa | undefined {
  for (const { tokens } of scan(text)) {
    const words = tokens.map((token) => token.text)
    const place = words.slice(0, 4).findIndex((word) => word.toUpperCase() === 'SOA')
    if (place !== -1 && words.length > place + 2) return { primary: words[place + 1]!, mailbox: words[place + 2]! }
  }
  return undefined
}

/** Whether a SOA as written, read as that of `origin`, has these two names. */
export function soaFits(written: WrittenSoa, origin: DnsName, primary: DnsName, mailbox: DnsName): boolean {
  const whole = (word: string) => {
    const reading = readName(word, origin)
    return reading.ok ? reading.name : undefined
  }
  return whole(written.primary) === primary && whole(written.mailbox) === mailbox
}

/**
 * The zone a file that names none is most likely of, by its owners: where `host` stands in it as a relative name, it is
 * that of the name above. `undefined` where it does not.
 */
export function originByNames(text: string, host: DnsName): DnsName | undefined {
  const owners = new Set<string>()
  for (const { tokens, blank } of scan(text)) if (!blank && tokens[0]) owners.add(tokens[0].text.toLowerCase())
  for (let above = parentOf(host); above !== undefined && above !== '.'; above = parentOf(above))
    if (parentOf(above) !== undefined && owners.has(relativeName(host, above))) return above
  return undefined
}
