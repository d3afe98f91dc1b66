import { UNMISTAKABLE } from '../slugs/alphabets'

/** The parameter by which a placed address says which placement it is, as in `ansl.example/fares?~=bk`. */
const NAME = '~'
/** Marks have two letters at least. */
const FIRST = UNMISTAKABLE.length - 1

/** The mark of a placement: its number in letters that cannot be mistaken. */
export function markOf(placement: number): string {
  let mark = ''
  for (let left = placement + FIRST; left > 0; left = Math.floor(left / UNMISTAKABLE.length))
    mark = UNMISTAKABLE[left % UNMISTAKABLE.length]! + mark
  return mark
}

/** The placement a mark is of; `undefined` for what is none. */
export function placementOf(mark: string): number | undefined {
  let number = 0
  for (const letter of mark) {
    const digit = UNMISTAKABLE.indexOf(letter)
    if (digit === -1) return undefined
    number = number * UNMISTAKABLE.length + digit
  }
  const placement = number - FIRST
  return placement >= 1 && Number.isSafeInteger(placement) && markOf(placement) === mark ? placement : undefined
}

/** The mark in what was asked for; empty where it has none. */
export function markIn(target: string): string {
  if (!target.includes('~=')) return ''
  return /[?&]~=([a-z2-9]{2,12})(?=[&#]|$)/.exec(target)?.[1] ?? ''
}

/** A query without the mark, which is ours and goes no further; all else stays as it came. */
export function withoutMark(query: string): string {
  if (!query.includes('~=')) return query
  return query
    .split('&')
    .filter((parameter) => !parameter.startsWith(`${NAME}=`))
    .join('&')
}
