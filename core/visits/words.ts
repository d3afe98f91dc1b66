/** What visits are told apart by, beside the moment. Links, domains and rules are named by their numbers. */
export const DIMENSIONS = [
  'link',
  'domain',
  'rule',
  'referrer',
  'country',
  'language',
  'device',
  'system',
  'browser',
  'channel',
] as const
export type Dimension = (typeof DIMENSIONS)[number]

/** Gives each word of one dimension a small number, the same for as long as the process lives. */
class Words {
  private readonly codes = new Map<string | number, number>()
  readonly words: (string | number)[] = []

  get size(): number {
    return this.words.length
  }
  code(word: string | number): number {
    let code = this.codes.get(word)
    if (code === undefined) {
      code = this.words.length
      this.codes.set(word, code)
      this.words.push(word)
    }
    return code
  }
}

/** The words of all dimensions, by which parts and sums of any day can be read together. */
export class Vocabulary {
  private readonly of = Object.fromEntries(DIMENSIONS.map((dimension) => [dimension, new Words()])) as Record<
    Dimension,
    Words
  >

  /** The words of a dimension; those of links, domains and rules are numbers. */
  words(dimension: Dimension): Words {
    return this.of[dimension]
  }
}
