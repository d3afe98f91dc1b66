import { foldCase } from './case-folding'
import { removeDotSegments } from './dot-segments'
import { betweenEscapes, decodePath } from './percent'

/** The part of a domain's slug rules that decides which addresses are the same address (semantics §1 item 4). */
export interface Sameness {
  /** `true`: `Fares` and `fares` are two addresses. */
  capitalsMatter: boolean
  /** `true`: `fares/` and `fares` are two addresses. */
  trailingSlashMatters: boolean
}

/** What reading an address did to it; shown by the trace. */
export type ReadingNote = 'escapes' | 'dot-segments' | 'unicode' | 'capitals' | 'trailing-slash'

export type SlugReading =
  | { ok: true; canonical: string; notes: ReadingNote[] }
  | { ok: false; reason: 'malformed-escape' | 'not-utf8' | 'control-character' }

/**
 * The canonical slug of a request path (without query) under a domain's rules: escapes (RFC 3986 §6.2.2.2),
 * dot segments (§6.2.2.3), Unicode NFC, then full case folding and the trailing slash where the domain says so.
 * Two slugs are the same address exactly when their canonical forms are equal; the form is a fixed point of
 * this function. `path` starts with `/`; the result does not, and is empty for the bare domain.
 */
export function readSlug(path: string, sameness: Sameness): SlugReading {
  const decoded = decodePath(path)
  if (!decoded.ok) return decoded
  const notes: ReadingNote[] = []
  const note = (kind: ReadingNote, before: string, after: string) => {
    if (before !== after) notes.push(kind)
    return after
  }
  let text = note('escapes', path, decoded.text)
  text = note('dot-segments', text, removeDotSegments(text))
  text = note('unicode', text, normalise(text))
  if (!sameness.capitalsMatter) text = note('capitals', text, foldToFixedPoint(text))
  // Folding and composing may bring forth a character that must be escaped (U+1FEF becomes a grave accent).
  const settled = decodePath(text)
  if (!settled.ok) return settled
  text = settled.text
  if (!sameness.trailingSlashMatters && text.length > 1 && text.endsWith('/') && !text.endsWith('//')) {
    text = note('trailing-slash', text, text.slice(0, -1))
  }
  return { ok: true, canonical: text.slice(1), notes }
}

/** Slugs that every domain reads as they are written: most of them, and there are very many. */
const PLAIN = /^[a-z0-9_-]+(?:\/[a-z0-9_-]+)*$/

/** The canonical form of a slug as an administrator typed it; `undefined` where no request could ever reach it. */
export function canonicalSlug(slug: string, sameness: Sameness): string | undefined {
  if (PLAIN.test(slug)) return slug
  const reading = readSlug('/' + slug, sameness)
  return reading.ok ? reading.canonical : undefined
}

const normalise = (text: string) => betweenEscapes(text, (piece) => piece.normalize('NFC'))

// Folding a composed text may give one that composes again (U+0345 and its capitals): two rounds settle it,
// the bound only guards against data we have not seen.
function foldToFixedPoint(text: string): string {
  for (let round = 0; round < 4; round++) {
    const folded = betweenEscapes(text, (piece) => foldCase(piece).normalize('NFC'))
    if (folded === text) break
    text = folded
  }
  return text
}
