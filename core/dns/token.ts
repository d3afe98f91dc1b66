/** A word of a master file, with escapes as written; `start` and `end` are places in the file. */
export interface Token {
  text: string
  quoted: boolean
  start: number
  end: number
}

/** A word made here rather than read from a file. */
const tokenOf = (word: string): Token => {
  const quoted = word.length > 1 && word.startsWith('"') && word.endsWith('"')
  return { text: quoted ? word.slice(1, -1) : word, quoted, start: 0, end: 0 }
}

/** What is wrong with a record's data, as a part of a sentence. */
export class DataFault extends Error {}
