/** The spelling alphabet of ICAO Annex 10, volume II, §5.2.1.3, figure 5-1; figures by their plain names. */
export const ICAO: Record<string, string> = {
  a: 'Alfa',
  b: 'Bravo',
  c: 'Charlie',
  d: 'Delta',
  e: 'Echo',
  f: 'Foxtrot',
  g: 'Golf',
  h: 'Hotel',
  i: 'India',
  j: 'Juliett',
  k: 'Kilo',
  l: 'Lima',
  m: 'Mike',
  n: 'November',
  o: 'Oscar',
  p: 'Papa',
  q: 'Quebec',
  r: 'Romeo',
  s: 'Sierra',
  t: 'Tango',
  u: 'Uniform',
  v: 'Victor',
  w: 'Whiskey',
  x: 'X-ray',
  y: 'Yankee',
  z: 'Zulu',
}
const SIGNS: Record<string, string> = {
  '0': 'zero',
  '1': 'one',
  '2': 'two',
  '3': 'three',
  '4': 'four',
  '5': 'five',
  '6': 'six',
  '7': 'seven',
  '8': 'eight',
  '9': 'nine',
  '-': 'hyphen',
  '.': 'dot',
  _: 'underscore',
  '~': 'tilde',
  '/': 'slash',
}

/** A slug as it is spelled over the telephone; capitals are said only where they matter. */
export function spell(slug: string, capitalsMatter: boolean): string {
  return [...slug]
    .map((character) => {
      const word = ICAO[character.toLowerCase()]
      if (word) return capitalsMatter && character !== character.toLowerCase() ? `capital ${word}` : word
      return SIGNS[character] ?? character
    })
    .join(' ')
}
