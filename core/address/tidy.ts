/** What tidying a pasted address changed; told to the person. */
export type TidyNote = 'spaces' | 'invisible' | 'line-breaks' | 'wrapping' | 'scheme'

// Zero-width and direction marks, soft hyphen, byte order mark: never meant, often pasted.
const INVISIBLE = /[\u00AD\u200B-\u200F\u202A-\u202E\u2060-\u2064\u2066-\u2069\uFEFF]/g

/** A text without the characters that cannot be seen and are pasted by mistake. */
export const withoutInvisible = (text: string): string => text.replace(INVISIBLE, '')

/**
 * Tidies a pasted long address: stray spaces, line breaks, invisible characters and wrapping brackets or quotes
 * go, a missing scheme becomes `https://`. Says what it did; changes nothing else.
 */
export function tidyDestination(pasted: string): { text: string; notes: TidyNote[] } {
  const notes: TidyNote[] = []
  const step = (note: TidyNote, before: string, after: string) => {
    if (before !== after && !notes.includes(note)) notes.push(note)
    return after
  }
  let text = step('invisible', pasted, withoutInvisible(pasted))
  text = step('line-breaks', text, text.replace(/[ \t]*[\r\n]+[ \t]*/g, ''))
  text = step('spaces', text, text.trim())
  const wrapped = /^<(.+)>$|^"(.+)"$|^'(.+)'$|^\((.+)\)$/.exec(text)
  if (wrapped) text = step('wrapping', text, (wrapped[1] ?? wrapped[2] ?? wrapped[3] ?? wrapped[4])!.trim())
  const bareHost = /^(?:[\p{L}\p{N}](?:[\p{L}\p{N}-]*[\p{L}\p{N}])?\.)+[\p{L}][\p{L}\p{N}-]*(?::\d+)?(?:[/?#]|$)/u
  if (text.startsWith('//')) text = step('scheme', text, 'https:' + text)
  else if (bareHost.test(text)) text = step('scheme', text, 'https://' + text)
  return { text, notes }
}
