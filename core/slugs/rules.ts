import { foldCase } from '../address/case-folding'
import { ALPHABETS, SEPARATORS, type AlphabetName } from './alphabets'
import { lookAlikeKey } from './skeleton'
import { isSingleScript } from './script'
import { charactersOf, type SlugRules } from './slug-rules'

export type BreachKind =
  'character' | 'separator' | 'script' | 'short' | 'long' | 'depth' | 'prefix' | 'reserved' | 'blocked'

/** What of a rule a slug breaks, in a sentence that says what would be right. */
export interface Breach {
  kind: BreachKind
  sentence: string
}

const NAMES: Record<AlphabetName, string> = {
  letters: 'letters and digits',
  lower: 'small letters and digits',
  unmistakable: 'characters that cannot be mistaken (small letters and digits without i, l, 1, o, 0)',
  own: 'the domain’s own alphabet',
}

/**
 * What a slug breaks of a domain's rules; empty where nothing. Where capitals do not matter, a capital counts as its
 * small letter. A trailing slash counts for nothing.
 */
export function breachesOf(slug: string, rules: SlugRules, capitalsMatter: boolean): Breach[] {
  const breaches: Breach[] = []
  const bare = slug.replace(/\/$/, '')
  const read = capitalsMatter ? bare : foldCase(bare)
  const allowed = allowedIn(rules, capitalsMatter)
  const add = (kind: BreachKind, sentence: string) =>
    breaches.some((breach) => breach.kind === kind) || breaches.push({ kind, sentence })
  const fold = (text: string) => (capitalsMatter ? text : foldCase(text))
  const family = rules.prefixes.find((prefix) => read.startsWith(fold(prefix) + '/'))
  // A family's name is given, whatever the alphabet.
  for (const character of family === undefined ? read : read.slice(fold(family).length + 1)) {
    if (character === '/' || allowed.includes(character)) continue
    if (SEPARATORS.includes(character)) {
      if (!rules.separators.includes(character))
        add(
          'separator',
          `“${character}” is not used as a separator here; ` +
            (rules.separators === ''
              ? 'none is.'
              : `use ${[...rules.separators].map((one) => `“${one}”`).join(', ')}.`),
        )
    } else if (!/^[\p{L}\p{M}\p{N}]$/u.test(character) || character <= '\x7f' || !rules.otherScripts)
      add('character', `“${character}” is not among ${NAMES[rules.alphabet]}.`)
  }
  if (rules.otherScripts && !isSingleScript(read)) add('script', 'Mixed scripts: use one script per slug.')
  const length = [...bare].length
  if (length < rules.minLength) add('short', `Too short: ${length} characters, minimum ${rules.minLength}.`)
  if (length > rules.maxLength) add('long', `Too long: ${length} characters, maximum ${rules.maxLength}.`)
  const parts = read.split('/')
  if (parts.length > rules.depth)
    add('depth', `It has ${parts.length} parts between slashes; at most ${rules.depth} are allowed.`)
  if (rules.prefixes.length > 0 && family === undefined) {
    add('prefix', `It must begin with ${rules.prefixes.map((prefix) => `“${prefix}/”`).join(' or ')}.`)
  }
  if (rules.reserved.some((name) => foldCase(name) === foldCase(parts[0]!)))
    add('reserved', `“${parts[0]}” is reserved on this domain.`)
  const blocked = findBlocked(read, rules.blocked)
  if (blocked) add('blocked', `Contains the blocked word “${blocked}”.`)
  return breaches
}

/** Folding of each preset alphabet: those of a file's lines are asked for very often. */
const FOLDED = new Map<string, string>()

function allowedIn(rules: SlugRules, capitalsMatter: boolean): string {
  const exact = charactersOf(rules)
  if (capitalsMatter) return exact
  if (rules.alphabet === 'own') return foldCase(exact)
  let folded = FOLDED.get(exact)
  if (folded === undefined) FOLDED.set(exact, (folded = foldCase(exact)))
  return folded
}

/**
 * Blocked words by what they look like; the long ones again by their length, so that a slug is looked through once for
 * each length.
 */
const blockedKeys = new WeakMap<
  readonly string[],
  { all: Map<string, string>; long: Map<number, Map<string, string>> }
>()

/**
 * The blocked word a slug holds: as a part or word of it, or, for words of five letters and more, anywhere in it; also
 * where it only looks like the word.
 */
function findBlocked(slug: string, words: readonly string[]): string | undefined {
  if (words.length === 0) return undefined
  let keys = blockedKeys.get(words)
  if (!keys) {
    const all = words.map((word) => [lookAlikeKey(word), word] as [string, string])
    const long = new Map<number, Map<string, string>>()
    for (const [key, word] of all)
      if (word.length >= 5) long.set(key.length, (long.get(key.length) ?? new Map<string, string>()).set(key, word))
    blockedKeys.set(words, (keys = { all: new Map(all), long }))
  }
  for (const piece of [slug, ...slug.split(/[-._~/]+/)]) {
    const word = piece && keys.all.get(lookAlikeKey(piece))
    if (word) return word
  }
  const key = lookAlikeKey(slug)
  for (const [length, long] of keys.long) {
    for (let at = 0; at + length <= key.length; at++) {
      const word = long.get(key.slice(at, at + length))
      if (word) return word
    }
  }
  return undefined
}

/** What of a set of rules cannot be as given, by field; empty where all can. */
export function faultsOfRules(rules: SlugRules): { field: keyof SlugRules; sentence: string }[] {
  const faults: { field: keyof SlugRules; sentence: string }[] = []
  if (!ALPHABETS.includes(rules.alphabet))
    faults.push({ field: 'alphabet', sentence: 'Choose “letters”, “lower”, “unmistakable” or “own”.' })
  const own = [...rules.ownAlphabet]
  if (rules.alphabet === 'own') {
    if (new Set(own).size < 2)
      faults.push({ field: 'ownAlphabet', sentence: 'Give at least two different characters.' })
    if (new Set(own).size < own.length)
      faults.push({
        field: 'ownAlphabet',
        sentence:
          `“${own.find((character, at) => own.indexOf(character) !== at)}” stands twice; give each character ` +
          'once.',
      })
    const wrong = own.find((character) => !/^[A-Za-z0-9\p{L}\p{N}]$/u.test(character))
    if (wrong !== undefined)
      faults.push({
        field: 'ownAlphabet',
        sentence: `“${wrong}” is neither letter nor digit; separators are chosen apart.`,
      })
  }
  const separator = [...rules.separators].find((character) => !SEPARATORS.includes(character))
  if (separator !== undefined)
    faults.push({ field: 'separators', sentence: `“${separator}” cannot separate; use some of “-”, “.”, “_” and “~”.` })
  if (rules.minLength > rules.maxLength)
    faults.push({ field: 'maxLength', sentence: `At most must not be less than at least (${rules.minLength}).` })
  if (rules.randomLength > rules.maxLength || rules.randomLength < rules.minLength)
    faults.push({
      field: 'randomLength',
      sentence: `Random slugs must be ${rules.minLength} to ${rules.maxLength} characters long, as all slugs.`,
    })
  if (
    rules.randomUnmistakable &&
    rules.alphabet === 'own' &&
    own.filter((character) => !/[il1o0]/i.test(character)).length < 2
  )
    faults.push({
      field: 'randomUnmistakable',
      sentence: 'Too few characters are left when the easily misread ones are; let random slugs use all.',
    })
  const prefix = rules.prefixes.find((text) =>
    rules.reserved.some((name) => foldCase(name) === foldCase(text.split('/')[0]!)),
  )
  if (prefix !== undefined)
    faults.push({ field: 'prefixes', sentence: `“${prefix}” is reserved as well; no slug could begin with it.` })
  return faults
}
