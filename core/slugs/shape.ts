/** What makes an address easy or hard to read, type or say. */
export interface ShapeNote {
  kind: 'misread' | 'capitals' | 'doubled' | 'unspeakable'
  sentence: string
}

const MISREAD: Record<string, string> = {
  '0': 'o',
  o: '0',
  O: '0',
  '1': 'l or i',
  l: '1 or I',
  I: 'l or 1',
  i: 'l or 1',
  '5': 's',
  S: '5',
  '2': 'z',
  Z: '2',
  '8': 'B',
  B: '8',
}
const VOWEL = /[aeiouyAEIOUY]/

/**
 * How sayable a slug is, from 0 to 1: letters that alternate between vowel and consonant as words do, few digits
 * outside of numbers (common practice, no source).
 */
export function speakability(slug: string): number {
  const pieces = slug.split(/[-._~/]+|(?<=[A-Za-z])(?=\d)|(?<=\d)(?=[A-Za-z])/).filter(Boolean)
  if (pieces.length === 0) return 0
  let points = 0
  for (const piece of pieces) {
    if (/^\d+$/.test(piece)) points += Math.max(0.2, 1 - 0.1 * piece.length)
    else if (!VOWEL.test(piece)) points += piece.length <= 2 ? 0.5 : 0.15
    else {
      const hard = (piece.match(/[^aeiouyAEIOUY]{4,}/g) ?? []).length + (piece.match(/[aeiouAEIOU]{3,}/g) ?? []).length
      points += Math.max(0.2, 1 - 0.4 * hard)
    }
  }
  return (points / pieces.length) * Math.max(0.4, 1 - 0.1 * (pieces.length - 1))
}

/** The shape of a slug, told: what is easily misread, what must be typed with care, what is hard to say. */
export function shapeOf(slug: string, capitalsMatter: boolean): ShapeNote[] {
  const notes: ShapeNote[] = []
  // Digits among digits and letters among letters are read as what stands around them.
  const risky = [
    ...new Set(
      [...slug].filter((character, at, all) => {
        if (!(character in MISREAD)) return false
        if (/[0OoIl1]/.test(character))
          return /\d/.test(character)
            ? /[A-Za-z]/.test((all[at - 1] ?? '') + (all[at + 1] ?? ''))
            : /\d/.test((all[at - 1] ?? '') + (all[at + 1] ?? '')) || (character === 'l' && all[at + 1] === 'l')
        return (
          /\d/.test(slug) &&
          /[A-Za-z]/.test((all[at - 1] ?? '') + (all[at + 1] ?? '')) &&
          /\d/.test(character + (all[at - 1] ?? '') + (all[at + 1] ?? ''))
        )
      }),
    ),
  ]
  if (risky.length > 0)
    notes.push({
      kind: 'misread',
      sentence: `Easily misread: ${risky.map((character) => `“${character}” as ${MISREAD[character]}`).join(', ')}.`,
    })
  const capitals = [...new Set([...slug].filter((character) => character !== character.toLowerCase()))]
  if (capitalsMatter && capitals.length > 0)
    notes.push({
      kind: 'capitals',
      sentence:
        `Capitals matter here: ${capitals.map((character) => `“${character}”`).join(', ')} must be typed as ` + 'such.',
    })
  const doubled = [...slug.matchAll(/(\p{L})\1/gu)].map((match) => match[0])
  if (doubled.length > 0)
    notes.push({
      kind: 'doubled',
      sentence: `Doubled: ${[...new Set(doubled)].map((pair) => `“${pair}”`).join(', ')} is often typed once.`,
    })
  if (/[A-Za-z]/.test(slug) && speakability(slug) < 0.45)
    notes.push({ kind: 'unspeakable', sentence: 'Hard to say aloud: it reads as no word.' })
  return notes
}
