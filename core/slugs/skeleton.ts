import unhomoglyph from 'unhomoglyph'
import { foldCase } from '../address/case-folding'

const prototypes = new Map<string, string>()

/**
 * A character's prototype in confusables.txt. The package searches all of it each time, so each character is asked for
 * once.
 */
function prototypeOf(character: string): string {
  let prototype = prototypes.get(character)
  if (prototype === undefined) prototypes.set(character, (prototype = unhomoglyph(character)))
  return prototype
}

/** The skeleton of UTS #39 §4: NFD, each character by its prototype in confusables.txt, NFD again. */
export function skeleton(text: string): string {
  let mapped = ''
  for (const character of text.normalize('NFD')) mapped += prototypeOf(character)
  return mapped.normalize('NFD')
}

const known = new Map<string, string>()

/**
 * What two slugs that look alike have in common (semantics §3): the UTS #39 skeleton, without case, with `0→o`, `1→l`,
 * `i→l`, and without separators, save those between digits, which tell numbers apart.
 */
export function lookAlikeKey(slug: string): string {
  let key = ''
  // Registers repeat few characters many times; the work on each is done once.
  for (const character of slug) {
    let piece = known.get(character)
    if (piece === undefined) {
      piece = foldCase(skeleton(character)).replaceAll('0', 'o').replace(/[1i]/g, 'l')
      known.set(character, piece)
    }
    key += piece
  }
  return /[-._~]/.test(slug) ? withoutSeparators(slug) : key
}

function withoutSeparators(slug: string): string {
  const kept = slug.replace(/[-._~]+/g, (run, at: number) =>
    /[0-9]/.test(slug[at - 1] ?? '') && /[0-9]/.test(slug[at + run.length] ?? '') ? '\u0000' : '',
  )
  return kept.split('\u0000').map(lookAlikeKey).join('-')
}
