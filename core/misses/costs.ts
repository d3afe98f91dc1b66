import { areNeighbours } from './keyboards'

/**
 * What each slip costs: minus the natural logarithm of about how likely it is, so that costs add up. That one slip of
 * insertion, deletion, substitution or transposition explains four of five mistypings is Damerau (1964); that
 * probabilities of the single slip by its letters rank corrections well is Kernighan, Church & Gale (1990); that
 * substitutions are mostly by a neighbouring key, and that letters are doubled and dropped within runs, is Grudin
 * (1983). The sources are cited from memory; the figures are ours, tuned on invented slips (scripts/tune-misses.ts).
 */
export const COSTS = {
  /** Capitals where there are none, for the whole address: phones set the first, people the rest. */
  capitals: 2.208,
  lookAlike: 4.446,
  neighbourKey: 5.58,
  soundAlike: 5.472,
  vowelForVowel: 4.361,
  substitution: 8.36,
  swapped: 4.274,
  /** A letter typed twice, and a double one typed once. */
  doubled: 4.064,
  halved: 2.64,
  droppedVowel: 3.23,
  dropped: 3.308,
  extraVowel: 5.558,
  extra: 7.182,
  extraNeighbour: 5.643,
  /** What a single slip is let off. */
  single: 1.197,
  /** One more too many or left out right after another. */
  again: 3.42,
  /** Where the slip is in the first character: people see to that one (Yannakoudakis & Fawthrop 1983, from memory). */
  first: 1.607,
  separatorLost: 3.2,
  separatorAdded: 4.4,
  separatorOther: 1.733,
  /** The rest of the address is missing, as when a mail breaks the line. */
  cutOff: 6.93,
  cutOffEach: 0.196,
  /** Something hangs on behind. */
  gluedOn: 6.27,
  gluedOnEach: 1.972,
  gluedLetters: 7,
  gluedLettersEach: 2.3,
  punctuation: 1.92,
  punctuationEach: 0.253,
  gluedBefore: 9.24,
  gluedBeforeEach: 2.31,
  escapes: 0.457,
  familyLost: 0.931,
  familyOther: 12.197,
  familyAdded: 7.763,
  otherDomain: 5.979,
  numeral: 2.2,
  variant: 4.425,
  wordOrder: 2.917,
}

/** Why a link may be meant, in words; the kinds of slips of the error model. */
export const REASONS = {
  capitals: 'capitals differ',
  'look-alike': 'look-alike characters',
  'neighbour-key': 'a neighbouring key',
  'sound-alike': 'a letter that sounds alike',
  'vowel-for-vowel': 'one vowel for another',
  substitution: 'another character',
  swapped: 'two characters swapped',
  doubled: 'a doubled letter',
  dropped: 'a character left out',
  extra: 'a character too many',
  separator: 'separators differ',
  'cut-off': 'the end is missing',
  'glued-on': 'text glued on behind',
  punctuation: 'punctuation at the end',
  'glued-before': 'text glued on before',
  escapes: 'an escaped address',
  'family-lost': 'the first part is missing',
  'family-other': 'another first part',
  'family-added': 'a first part too many',
  'other-domain': 'asked under another of our domains',
  numeral: 'a number as word or digits',
  variant: 'plural or spelling',
  'word-order': 'words in another order',
  followed: 'visitors found it next',
} as const
export type Reason = keyof typeof REASONS

const code = (text: string) => text.charCodeAt(0)
const LOOK_ALIKES = new Set<number>()
for (const pair of ['0o', '1l', '1i', 'il', '5s', '2z', '8b', '6b', '9g', '9q', 'uv', 'vw', 'gq', 'ce', 'nm']) {
  const [a, b] = [code(pair[0]!), code(pair[1]!)]
  LOOK_ALIKES.add(a * 128 + b).add(b * 128 + a)
}

/**
 * Letters people take for each other by their sound (Kukich 1992 on phonetic errors, from memory; the pairs are ours).
 */
const SOUND_ALIKES = new Set<number>()
for (const pair of ['ck', 'cs', 'sz', 'fv', 'iy', 'gj', 'dt', 'bp', 'kq', 'vw', 'kx', 'hw']) {
  const [a, b] = [code(pair[0]!), code(pair[1]!)]
  SOUND_ALIKES.add(a * 128 + b).add(b * 128 + a)
}

const isVowel = (unit: number) =>
  unit === 97 || unit === 101 || unit === 105 || unit === 111 || unit === 117 || unit === 121
/** Separators of slugs, and what people type for them. */
export const isSeparator = (unit: number): boolean =>
  unit === 45 || unit === 95 || unit === 47 || unit === 46 || unit === 32 || unit === 43 || unit === 126
/** Punctuation of running text. */
export const isPunctuation = (unit: number): boolean =>
  unit === 46 ||
  unit === 44 ||
  unit === 59 ||
  unit === 58 ||
  unit === 33 ||
  unit === 63 ||
  unit === 41 ||
  unit === 93 ||
  unit === 125 ||
  unit === 62 ||
  unit === 39 ||
  unit === 34 ||
  unit === 42 ||
  unit === 38 ||
  unit === 0x201d ||
  unit === 0x2019 ||
  unit === 0xbb ||
  unit === 0x2026

/** The reason a substitution has. */
export function substitutionReason(typed: number, meant: number): Reason {
  if (isSeparator(typed) && isSeparator(meant)) return 'separator'
  if (LOOK_ALIKES.has(typed * 128 + meant)) return 'look-alike'
  if (areNeighbours(typed, meant)) return 'neighbour-key'
  if (isVowel(typed) && isVowel(meant)) return 'vowel-for-vowel'
  return SOUND_ALIKES.has(typed * 128 + meant) ? 'sound-alike' : 'substitution'
}

/** What typing one ASCII character for another costs, by the typed one times 128 plus the meant one. */
export const SUBSTITUTIONS = new Float64Array(128 * 128)
/** Works the table of substitutions out; again where a tuner changed the costs. */
export function fillSubstitutions(): void {
  const byReason: Partial<Record<Reason, number>> = {
    separator: COSTS.separatorOther,
    'look-alike': COSTS.lookAlike,
    'neighbour-key': COSTS.neighbourKey,
    'vowel-for-vowel': COSTS.vowelForVowel,
    'sound-alike': COSTS.soundAlike,
    substitution: COSTS.substitution,
  }
  for (let at = 0; at < SUBSTITUTIONS.length; at++) SUBSTITUTIONS[at] = byReason[substitutionReason(at >> 7, at & 127)]!
}
fillSubstitutions()

/** What a character too many costs, between those before and after it in what was typed. */
export function insertion(typed: number, before: number, after: number): number {
  if (typed === before) return COSTS.doubled
  if (isSeparator(typed)) return COSTS.separatorAdded
  if (areNeighbours(typed, before) || areNeighbours(typed, after)) return COSTS.extraNeighbour
  return isVowel(typed) ? COSTS.extraVowel : COSTS.extra
}

/** What a character left out costs, after the one before it in what was meant. */
export function omission(meant: number, before: number): number {
  if (meant === before) return COSTS.halved
  if (isSeparator(meant)) return COSTS.separatorLost
  return isVowel(meant) ? COSTS.droppedVowel : COSTS.dropped
}
