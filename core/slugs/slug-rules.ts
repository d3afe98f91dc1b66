import { PRESETS, SEPARATORS, type AlphabetName } from './alphabets'

/** What a domain asks of its slugs, beside whether capitals and a trailing slash matter. */
export interface SlugRules {
  alphabet: AlphabetName
  /** The characters of the alphabet `own`. */
  ownAlphabet: string
  /** Which of `-._~` may stand between words. */
  separators: string
  /** Letters of other scripts, one script to a slug (UTS #39 §5.1). */
  otherScripts: boolean
  minLength: number
  maxLength: number
  /** How many parts between slashes a slug may have. */
  depth: number
  /** Families: where there are any, a slug begins with one of them and a slash. */
  prefixes: string[]
  /** First parts that are kept for other uses. */
  reserved: string[]
  /** Words that must not stand in a slug. */
  blocked: string[]
  /** How many characters a random slug has. */
  randomLength: number
  /** Whether random slugs leave out what is easily misread: i l 1 o 0, capital or small. */
  randomUnmistakable: boolean
}

/** Rules that refuse nothing an address can be; what a domain has until somebody decides. */
export const OPEN_RULES: SlugRules = {
  alphabet: 'letters',
  ownAlphabet: '',
  separators: SEPARATORS,
  otherScripts: true,
  minLength: 1,
  maxLength: 200,
  depth: 20,
  prefixes: [],
  reserved: [],
  blocked: [],
  randomLength: 7,
  randomUnmistakable: true,
}

/** The characters slugs may be made of, without separators and slash; for random slugs all of these. */
export const charactersOf = (rules: SlugRules): string =>
  rules.alphabet === 'own' ? rules.ownAlphabet : PRESETS[rules.alphabet]
