import { isAtOrBelow, readName, type DnsName } from '../name'
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
