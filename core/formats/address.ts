import { readHost } from '../address'

/** An address of a file: with a host or without, with a scheme or without. */
export interface FileAddress {
  host: string | null
  slug: string
}

/**
 * Reads what a file calls an address: `/fares`, `fares`, `go.example/fares` or `https://go.example/fares`. What
 * stands before the first slash is a host where it has a dot and can be one, and the text begins with no slash.
 * Gives a sentence where it is neither.
 */
export function readFileAddress(text: string): FileAddress | { sentence: string } {
  const typed = text.trim()
  if (typed === '') return { sentence: 'The address is missing.' }
  if (/[?#]/.test(typed))
    return { sentence: 'An address has no “?” and no “#”; what follows them is not told apart by it.' }
  if (typed.startsWith('/') && !typed.startsWith('//')) return { host: null, slug: typed.slice(1) }
  const whole = /^(?:https?:)?\/\/([^/]+)(?:\/(.*))?$/is.exec(typed)
  const bare = /^([^/]+\.[^/]+)\/(.*)$/s.exec(typed)
  const [host, slug] = whole ? [whole[1]!, whole[2] ?? ''] : bare ? [bare[1]!, bare[2]!] : [null, typed]
  if (host === null) return { host, slug }
  const reading = readHost(host)
  if (reading.ok) return { host: reading.host, slug }
  return whole ? { sentence: `“${host}” is no host.` } : { host: null, slug: typed }
}
