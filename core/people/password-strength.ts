import { ZxcvbnFactory } from '@zxcvbn-ts/core'
import { adjacencyGraphs, dictionary as common } from '@zxcvbn-ts/language-common'
import { dictionary as english, translations } from '@zxcvbn-ts/language-en'
import { MIN_CHARACTERS } from './limits'

/** A password needs at least 10^8 guesses: zxcvbn’s third step of four (Wheeler 2016). */
const MIN_SCORE = 3
/** Longer ones are judged by their beginning: the estimate takes time that grows with the square of the length. */
const MAX_JUDGED = 100

let estimator: ZxcvbnFactory | undefined

export interface Strength {
  /** From 0 (guessed at once) to 4. */
  score: 0 | 1 | 2 | 3 | 4
  /** Why it is refused, with what would be right; empty for one that is taken. */
  refusal: string
}

/**
 * Judges a password by how many guesses it takes. `about` holds what others know of its owner: name, address,
 * organisation.
 */
export function passwordStrength(password: string, about: readonly string[]): Strength {
  estimator ??= new ZxcvbnFactory({ dictionary: { ...common, ...english }, graphs: adjacencyGraphs, translations })
  const known = about
    .flatMap((text) => [text, ...text.split('@'), ...text.split(/[^\p{L}\p{N}]+/u)])
    .filter((text) => text.length > 2)
  const { score, feedback } = estimator.check(password.slice(0, MAX_JUDGED), known)
  if ([...password].length < MIN_CHARACTERS)
    return { score, refusal: `A password needs at least ${MIN_CHARACTERS} characters.` }
  if (score >= MIN_SCORE) return { score, refusal: '' }
  const why = feedback.warning ? ` ${feedback.warning.replace(/\.?$/, '.')}` : ''
  return {
    score,
    refusal:
      `This password is too easy to guess.${why} Three or four words that have nothing to do with each other are ` +
      'good.',
  }
}
