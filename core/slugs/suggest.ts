import { speakability } from './shape'
import { breachesOf } from './rules'
import type { SlugRules } from './slug-rules'

// Words that name nothing (common practice, no source).
const EMPTY = new Set(
  (
    'a an and are at by for from how in is it of on or our the this to up us we what when where with your you ' +
    'index html htm php page pages www home en pt de com net org'
  ).split(' '),
)

export interface SuggestionFacts {
  title: string
  destination: string
  /** What was typed already, to stay near; empty where nothing. */
  typed: string
  rules: SlugRules
  capitalsMatter: boolean
}

/** What the register knows of a slug that might be given. */
export interface SuggestionWorld {
  isFree(slug: string): boolean
  /** How many live addresses it could be mistaken for: look-alikes and those one slip apart. */
  neighbours(slug: string): number
}

export interface Suggestion {
  slug: string
  /** From 0 to 1: short, sayable and far from its neighbours. */
  score: number
}

/** Up to `most` free slugs within the rules, made from title, destination and what was typed, best first. */
export function suggestSlugs(facts: SuggestionFacts, world: SuggestionWorld, most = 5): Suggestion[] {
  const found = new Map<string, Suggestion>()
  for (const candidate of candidates(facts)) {
    if (
      found.has(candidate) ||
      candidate === facts.typed ||
      breachesOf(candidate, facts.rules, facts.capitalsMatter).length > 0 ||
      !world.isFree(candidate)
    )
      continue
    const neighbours = world.neighbours(candidate)
    const score =
      0.45 / (1 + Math.max(0, candidate.length - 4) / 8) + 0.3 * speakability(candidate) + 0.25 / (1 + neighbours)
    found.set(candidate, { slug: candidate, score: Math.round(score * 1000) / 1000 })
    if (found.size >= 60) break
  }
  return [...found.values()]
    .sort((a, b) => b.score - a.score || a.slug.length - b.slug.length || (a.slug < b.slug ? -1 : 1))
    .slice(0, most)
}

function* candidates(facts: SuggestionFacts): Generator<string> {
  const { rules } = facts
  const join = rules.separators.includes('-') ? '-' : (rules.separators[0] ?? '')
  const typed = facts.typed.replace(/\/$/, '')
  // Who has begun a family stays in it.
  const family = typed.includes('/') ? typed.slice(0, typed.lastIndexOf('/') + 1) : ''
  const prefix = family || (rules.prefixes[0] ? `${rules.prefixes[0]}/` : '')
  if (typed !== '') {
    const own = wordsOf(typed.slice(family.length))
    for (const word of [...wordsOf(facts.title), ...wordsOf(facts.destination)]) {
      if (own.includes(word)) continue
      yield family + [...own, word].join(join)
      yield family + [word, ...own].join(join)
    }
    const number = /^(.*?)(\d+)$/.exec(typed)
    if (number)
      for (let more = 1; more <= 5; more++)
        yield number[1]! + String(Number(number[2]) + more).padStart(number[2]!.length, '0')
    else for (let more = 2; more <= 5; more++) yield `${typed}${join}${more}`
    if (own.length > 1) {
      yield family + own.join('')
      yield family + own.join(join)
    }
  }
  for (const words of [wordsOf(facts.title), wordsOf(pathOf(facts.destination)), wordsOf(hostOf(facts.destination))]) {
    for (const word of words) if (isTelling(word)) yield prefix + word
    for (let at = 0; at + 1 < words.length; at++) {
      const [one, other] = [words[at]!, words[at + 1]!]
      if (!isTelling(one) && !isTelling(other)) continue
      // A number follows its word: fares-2028.
      yield prefix + (isTelling(one) ? [one, other] : [other, one]).join(join)
      if (isTelling(one) && isTelling(other)) yield prefix + one + other
    }
    if (words.length > 2) {
      if (words.slice(0, 3).some(isTelling)) yield prefix + words.slice(0, 3).join(join)
      const initials = words.map((word) => word[0]).join('')
      if (isTelling(initials)) yield prefix + initials
    }
  }
}

/** Whether a word can be a slug alone: it has three letters or more. */
const isTelling = (word: string): boolean => (word.match(/\p{L}/gu)?.length ?? 0) >= 3

/** The words of a text in small letters without accents, in their order, empty ones left out. */
export function wordsOf(text: string): string[] {
  const plain = text.normalize('NFKD').replace(/\p{M}/gu, '').toLowerCase().replace(/[’']/g, '')
  return [
    ...new Set(plain.split(/[^\p{L}\p{N}]+/u).filter((word) => word !== '' && !EMPTY.has(word) && word.length <= 24)),
  ]
}

const pathOf = (destination: string) => {
  try {
    const url = new URL(destination)
    return decodeURIComponent(url.pathname)
      .replace(/\.[a-z0-9]{2,5}$/i, '')
      .split('/')
      .reverse()
      .join('/')
  } catch {
    return ''
  }
}
const hostOf = (destination: string) => {
  try {
    return new URL(destination).hostname.split('.').slice(0, -1).reverse().join(' ')
  } catch {
    return ''
  }
}
