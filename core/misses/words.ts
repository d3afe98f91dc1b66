/** Numerals as words, in the languages the not-found page speaks; what is not listed has no figure. */
const NUMERALS: Record<string, string> = {}
for (const row of [
  'zero one two three four five six seven eight nine ten eleven twelve',
  'null eins zwei drei vier fünf sechs sieben acht neun zehn elf zwölf',
  'zéro un deux trois quatre cinq six sept huit neuf dix onze douze',
  'cero uno dos tres cuatro cinco seis siete ocho nueve diez once doce',
  'zero um dois três quatro cinco seis sete oito nove dez onze doze',
])
  row.split(' ').forEach((word, value) => (NUMERALS[word] ??= String(value)))
for (const [value, word] of ['ii', 'iii', 'iv', 'vi', 'vii', 'viii', 'ix'].entries())
  NUMERALS[word] ??= String([2, 3, 4, 6, 7, 8, 9][value])

/** Spellings that stand for each other (British and American, German ß; handbook knowledge, from memory). */
const VARIANTS: readonly (readonly [RegExp, string])[] = [
  [/centre/g, 'center'],
  [/theatre/g, 'theater'],
  [/metre/g, 'meter'],
  [/colour/g, 'color'],
  [/harbour/g, 'harbor'],
  [/neighbour/g, 'neighbor'],
  [/favour/g, 'favor'],
  [/programme/g, 'program'],
  [/is(e|ed|ing|ation)(?![a-z])/g, 'iz$1'],
  [/catalogue/g, 'catalog'],
  [/licence/g, 'license'],
  [/tyre/g, 'tire'],
  [/night/g, 'nite'],
  [/through/g, 'thru'],
  [/and/g, '&'],
  [/ß/g, 'ss'],
]

const singular = (word: string): string => {
  if (word.length < 4 || !word.endsWith('s') || word.endsWith('ss')) return word
  if (word.endsWith('ies')) return word.slice(0, -3) + 'y'
  return /(?:[sxz]|ch|sh)es$/.test(word) ? word.slice(0, -2) : word.slice(0, -1)
}

/** A text with figures in the place of words of numbers. */
export const withFigures = (text: string): string => text.replace(/[a-zà-ÿ]+/g, (word) => NUMERALS[word] ?? word)

/** A text with each word in its plainest form: singular, one spelling. */
export function plainSpelling(text: string): string {
  let plain = text
  for (const [pattern, to] of VARIANTS) plain = plain.replace(pattern, to)
  return plain.replace(/[a-zà-ÿ&]+/g, singular)
}

const MARKS = /[\u0300-\u036f]/g
/** Small letters without accents. */
export function plainLetters(text: string): string {
  const small = text.toLowerCase()
  for (let at = 0; at < small.length; at++)
    if (small.charCodeAt(at) > 127) return small.normalize('NFD').replace(MARKS, '').normalize('NFC')
  return small
}

/**
 * What many spellings of one address have in common: small letters without accents and separators, runs of one letter
 * as one, and what looks alike as one. Digits stay as they are, but for 0 and 1.
 */
export function bones(plain: string): string {
  let text = ''
  let last = 0
  for (let at = 0; at < plain.length; at++) {
    let unit = plain.charCodeAt(at)
    if (unit === 45 || unit === 95 || unit === 47 || unit === 46 || unit === 32 || unit === 43 || unit === 126) continue
    if (unit === 48) unit = 111
    else if (unit === 49 || unit === 105) unit = 108
    if (unit === last && (unit < 48 || unit > 57)) continue
    text += String.fromCharCode(unit)
    last = unit
  }
  return text
}

/** Letters that sound alike as one of them; vowels and what is silent as nothing. From memory of phonetic codes. */
const SOUNDS: Record<string, string> = {
  a: '',
  e: '',
  o: '',
  u: '',
  y: '',
  h: '',
  w: '',
  b: 'p',
  d: 't',
  g: 'k',
  c: 'k',
  q: 'k',
  j: 'k',
  x: 'k',
  z: 's',
  v: 'f',
  n: 'm',
}

/** How an address sounds: its consonants in order, alike ones as one, runs as one; digits as they are. */
export function soundOf(skeleton: string): string {
  let text = ''
  for (const one of skeleton) {
    const sound = SOUNDS[one] ?? one
    if (sound !== '' && (sound !== text[text.length - 1] || (sound >= '0' && sound <= '9'))) text += sound
  }
  return text
}

/** Words come again and again; the work on each is done once, for so many of them. */
const MAX_KNOWN = 50_000
const known = new Map<string, string>()

/** A word in its plainest form: a number as figures, singular, one spelling. */
function plainWord(word: string): string {
  let plain = known.get(word)
  if (plain === undefined) {
    plain = plainSpelling(withFigures(word))
    if (known.size >= MAX_KNOWN) known.clear()
    known.set(word, plain)
  }
  return plain
}

const kindOf = (unit: number): 'letter' | 'digit' | 'other' =>
  unit >= 48 && unit <= 57 ? 'digit' : (unit >= 97 && unit <= 122) || unit >= 0xdf ? 'letter' : 'other'

/** The words of an address in their plainest form, sorted: the same in any order. Letters and digits part words. */
export function sortedWords(plain: string): string {
  const words: string[] = []
  for (let from = 0; from < plain.length;) {
    const kind = kindOf(plain.charCodeAt(from))
    let to = from + 1
    while (to < plain.length && kindOf(plain.charCodeAt(to)) === kind) to++
    if (kind === 'letter') words.push(plainWord(plain.slice(from, to)))
    else if (kind === 'digit') words.push(plain.slice(from, to))
    else if (plain.charCodeAt(from) === 37) words.push(plain.slice(from, to))
    from = to
  }
  return words.length === 1 ? words[0]! : words.sort().join(' ')
}
