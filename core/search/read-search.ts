import { decodePath, isTracking, showHost, withoutInvisible } from '../address'

/** What a link's searched text must contain. */
export interface SearchTerm {
  /** A part of the text, in lower case. */
  text: string
  /** Where the term is an address: also enough if the link's own short address is exactly this, in lower case. */
  exact?: string
  /** The address as it was pasted, with the upper-case letters of its path: some domains tell them apart. */
  address?: string
}

const MAX_TERMS = 8
/** Each alternative is looked for in every link. */
const MAX_ALTERNATIVES = 20
const PAIRS = [`""`, `''`, '“”', '„“', '‘’', '«»', '»«', '<>', '()', '[]', '{}']
const HOST = /(?:[\p{L}\p{N}](?:[\p{L}\p{N}-]*[\p{L}\p{N}])?\.)+[\p{L}][\p{L}\p{N}-]*(?::\d+)?/u
/** A scheme, or a host with a dot and perhaps a path. */
const ADDRESS = new RegExp(`^(?:https?://|www\\.)\\S|^${HOST.source}(?:[/?#]|$)`, 'iu')

/**
 * Reads what was typed or pasted into a search: alternatives, each a list of terms that must all be found. Words are
 * one alternative. An address is read as people paste it: without scheme, `www.`, wrapping quotes or brackets, trailing
 * slash, fragment, placement mark and tracking parameters; several addresses are alternatives, an address broken over
 * lines is joined.
 */
export function readSearch(typed: string): SearchTerm[][] {
  const words = onOneLine(typed).split(/\s+/).map(unwrap).filter(Boolean)
  if (words.length === 0) return []
  if (words.length > 1 && words.every((word) => ADDRESS.test(word)))
    return words.slice(0, MAX_ALTERNATIVES).map((word) => [readAddress(word)])
  return [words.slice(0, MAX_TERMS).map((word) => (ADDRESS.test(word) ? readAddress(word) : readWord(word)))]
}

/** What was pasted as a field of one line holds it: an address that was broken over lines is whole again. */
export function onOneLine(pasted: string): string {
  const lines = tidy(pasted)
  const isBroken =
    lines.length > 1 &&
    ADDRESS.test(lines[0]!) &&
    lines.every((line) => !/\s/.test(line)) &&
    !lines.every((line) => ADDRESS.test(line))
  return lines.join(isBroken ? '' : ' ')
}

/** The addresses that were pasted, without scheme and query; empty where words were. */
export function pastedAddresses(typed: string): string[] {
  return readSearch(typed).flatMap(([first, ...more]) =>
    first?.address !== undefined && more.length === 0 ? [first.address] : [],
  )
}

/** Lines without invisible characters, and without the blanks, quotes and brackets around them. */
const tidy = (typed: string): string[] =>
  typed
    .split(/[\r\n]+/)
    .map((line) => unwrap(withoutInvisible(line).trim()))
    .filter(Boolean)

/** Without quotes and brackets around it, and without the point or comma of a sentence behind it. */
function unwrap(text: string): string {
  let inner = text
  for (;;) {
    const [first, last] = [inner[0], inner.at(-1)]
    if (inner.length > 2 && PAIRS.some((pair) => pair[0] === first && pair[1] === last)) inner = inner.slice(1, -1)
    else if (/[.,;:!]$/.test(inner)) inner = inner.slice(0, -1)
    else return inner
  }
}

const readWord = (word: string): SearchTerm => ({ text: (word.replace(/^\/+(?=.)/, '') || word).toLowerCase() })

function readAddress(address: string): SearchTerm {
  const bare = address
    .replace(/^https?:\/\//i, '')
    .replace(/^www\./i, '')
    .replace(/#.*$/, '')
    .replace(/^[^/?]+/, (host) => showHost(host.toLowerCase()))
  const at = bare.indexOf('?')
  const path = (at === -1 ? bare : bare.slice(0, at)).replace(/\/+$/, '')
  const decoded = decodePath(path)
  const kept =
    at === -1
      ? []
      : bare
          .slice(at + 1)
          .split('&')
          .filter((pair) => pair && !isNoise(pair.split('=', 1)[0]!))
  const plain = decoded.ok ? decoded.text : path
  return {
    // As destinations are stored: with their escapes.
    text: (kept.length > 0 ? `${path}?${kept.join('&')}` : path).toLowerCase(),
    exact: plain.toLowerCase(),
    address: plain,
  }
}

/** A parameter that is no part of what is searched: a placement's mark, or tracking. */
const isNoise = (name: string) => name === '~' || isTracking(name)
