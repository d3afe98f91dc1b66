/** A word of a master file, with escapes as written; `start` and `end` are places in the file. */
export interface Token {
  text: string
  quoted: boolean
  start: number
  end: number
}

/** What is wrong with a record's data, as a part of a sentence. */
export class DataFault extends Error {}
