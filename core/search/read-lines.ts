import { readDestination, tidyDestination } from '../address'
import { MAX_MANY } from '../schemas'

/** One line of links to be created. */
export interface LinkLine {
  /** Its number, from 1, among all lines that were pasted. */
  line: number
  /** Empty: a random one is chosen. */
  slug: string
  destination: string
  /** What is wrong with it. */
  fault?: string
}

/** A slug, then a blank, comma, semicolon or tab, then a destination, which may itself contain commas. */
const PAIR = /^\/*([^\s,;]+)(?:\s*[,;]\s*|\s+)(\S+)$/

/**
 * Reads pasted lines of `slug destination`, or of destinations alone. Blank lines are skipped; a line that is neither
 * keeps its place with what is wrong.
 */
export function readLinkLines(pasted: string): LinkLine[] {
  const lines: LinkLine[] = []
  for (const [index, text] of pasted.split(/\r\n|\r|\n/).entries()) {
    if (text.trim() === '') continue
    const line: LinkLine = { line: index + 1, ...partsOf(text.trim()) }
    if (lines.length >= MAX_MANY) line.fault = `The maximum is ${MAX_MANY} lines at once. Import a file instead.`
    lines.push(line)
  }
  return lines
}

function partsOf(text: string): Omit<LinkLine, 'line'> {
  const alone = tidyDestination(text).text
  if (!/\s/.test(text) && readDestination(alone).ok) return { slug: '', destination: alone }
  const [, slug = '', rest = ''] = PAIR.exec(text) ?? []
  const destination = tidyDestination(rest).text
  if (rest === '')
    return {
      slug: '',
      destination: text,
      fault: 'Enter a slug and a destination, for example “fares https://www.example/fares”.',
    }
  return readDestination(destination).ok
    ? { slug, destination }
    : { slug, destination, fault: 'Enter a destination like https://www.example/page.' }
}
