/** Numerals as words, in the languages the not-found page speaks; what is not listed has no figure. */
const NUMERALS: Record<string, string> = {}
for (const row of [
  'zero one two three four five six seven eight nine ten eleven twelve thirteen fourteen fifteen sixteen seventeen eighteen nineteen twenty',
  'null eins zwei drei vier fünf sechs sieben acht neun zehn elf zwölf dreizehn vierzehn fünfzehn sechzehn siebzehn achtzehn neunzehn zwanzig',
  'zéro un deux trois quatre cinq six sept huit neuf dix onze douze treize quatorze quinze seize dix-sept dix-huit dix-neuf vingt',
  'cero uno dos tres cuatro cinco seis siete ocho nueve diez once doce trece catorce quince dieciséis diecisiete dieciocho diecinueve veinte',
  'zero um dois três quatro cinco seis sete oito nove dez onze doze treze catorze quinze dezasseis dezassete dezoito dezanove vinte',
])
  row.split(' ').forEach((word, value) => (NUMERALS[word] ??= String(value)))
for (const [value, word] of ['ii', 'iii', 'iv', 'vi', 'vii', 'viii', 'ix'].entries())
  NUMERALS[word] ??= String([2, 3, 4, 6, 7, 8, 9][value])

/** Spellings that stand for each other (British and American, German without umlauts; handbook knowledge, from memory). */
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
  [/ae/g, 'a'],
  [/oe/g, 'o'],
  [/ue/g, 'u'],
  [/ß/g, 'ss'],
]

const singular = (word: string): string => {
  if (word.length < 4 || !word.endsWith('s') || word.endsWith('ss')) return word
  if (word.endsWith('ies')) return word.slice(0, -3) + 'y'
  return /(?:[sxz]|ch|sh)es$/.test(word) ? word.slice(0, -2) : word.slice(0, -1)
}

/** Words of a path, in small letters: what stands between separators, letters and digits apart. */
export const wordsOf = (text: string): string[] =>
  text.split(/[-_/.+ ~,;:!?()&=]+|(?<=[a-zà-ÿ])(?=[0-9])|(?<=[0-9])(?=[a-zà-ÿ])/).filter((word) => word !== '')

/** Whether a text has a word of numbers, and the text with figures in their place. */
export const withFigures = (text: string): string =>
  text.replace(/[a-zà-ÿ]+/g, (word) => NUMERALS[word] ?? word)

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

/** The words of an address in their plainest form, numbers as figures, sorted: the same in any order. */
export const sortedWords = (plain: string): string =>
  wordsOf(plainSpelling(withFigures(plain))).sort().join(' ')
