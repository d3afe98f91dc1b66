import Negotiator from 'negotiator'
import { z } from 'zod'
import type { ConditionKind } from './kind'

/** Languages by their tags (RFC 5646); it holds where the visitor wants one of them most, of all that rivals name. */
export interface LanguagePart {
  kind: 'language'
  languages: string[]
}

const MAX_LANGUAGES = 30
/** A longer field is nobody's wish; browsers send a hundred characters or two. */
const MAX_FIELD = 1000

const tag = z
  .string()
  .trim()
  .regex(/^[A-Za-z]{2,3}(?:-[A-Za-z0-9]{1,8}){0,4}$/, 'Give languages by their tags, like “pt” or “pt-BR” (RFC 5646).')

const fold = (language: string) => language.toLowerCase()

/**
 * The language a visitor wants most of those there are, by Accept-Language with its quality values (RFC 9110 §12.5.4),
 * looked up as RFC 4647 §3.4 says: each range in turn, shortened from its end until there is one. `undefined` for none.
 */
export function lookUpLanguage(acceptLanguage: string, available: readonly string[]): string | undefined {
  const there = new Set(available.map(fold))
  const field = acceptLanguage.slice(0, MAX_FIELD)
  for (const range of new Negotiator({ headers: { 'accept-language': field } }).languages()) {
    // “Any” wants none of them more than another (§3.4: it is passed over).
    if (range === '*') continue
    const subtags = fold(range).split('-')
    while (subtags.length > 0) {
      if (there.has(subtags.join('-'))) return subtags.join('-')
      subtags.pop()
      // A single letter introduces what follows it and does not stand alone.
      if (subtags.at(-1)?.length === 1) subtags.pop()
    }
  }
  return undefined
}

const named = (parts: readonly LanguagePart[]) => new Set(parts.flatMap(({ languages }) => languages.map(fold)))

export const languageKind: ConditionKind<LanguagePart> = {
  kind: 'language',
  read: z.strictObject({
    kind: z.literal('language'),
    languages: z
      .array(tag, 'Give languages by their tags, like “pt” or “pt-BR” (RFC 5646).')
      .min(1, 'Name at least one language.')
      .max(MAX_LANGUAGES, `At most ${MAX_LANGUAGES} languages.`),
  }),
  holds(part) {
    const mine = named([part])
    return ({ acceptLanguage }, rivals) => {
      if (acceptLanguage === '') return false
      const wanted = lookUpLanguage(acceptLanguage, [...named([part, ...rivals()])])
      return wanted !== undefined && mine.has(wanted)
    }
  },
  // One visitor gets one language of those that are named for an address.
  meets: (a, b) => [...named([a])].some((language) => named([b]).has(language)),
  covers: (outer, inner) => [...named([inner])].every((language) => named([outer]).has(language)),
  example: ([first, ...rest]) => {
    const common = first?.languages.find((language) => rest.every((part) => named([part]).has(fold(language))))
    return common === undefined ? {} : { acceptLanguage: common }
  },
  words: ({ languages }) => `the visitor wants ${languages.join(' or ')} most`,
  fingerprint: (part) => [...named([part])].sort().join(' '),
  varies: 'Accept-Language',
}
