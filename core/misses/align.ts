import {
  COSTS,
  insertion,
  isPunctuation,
  isSeparator,
  omission,
  substitutionReason,
  SUBSTITUTIONS,
  type Reason,
} from './costs'

/** Longer texts are compared as far as this. */
export const MAX_COMPARED = 96
const WIDTH = MAX_COMPARED + 1
const cells = new Float64Array(WIDTH * WIDTH)
const units = new Uint16Array(WIDTH)
const lost = new Float64Array(WIDTH)
const lostAgain = new Float64Array(WIDTH)
/** How each cell was reached. */
const enum Op {
  Kept,
  Extra,
  Lost,
  Swapped,
  Before,
}
const ops = new Uint8Array(WIDTH * WIDTH)
/** Where the cheapest alignment ends. */
let endI = 0
let endJ = 0

/**
 * What hangs on behind `from`: marks of running text, something that begins with a mark of its own, or just letters.
 */
const gluedCost = (typed: string, from: number): number => {
  const left = typed.length - from
  if (left <= 0) return 0
  let punctuated = 0
  while (punctuated < left && isPunctuation(typed.charCodeAt(from + punctuated))) punctuated++
  if (punctuated === left) return COSTS.punctuation + COSTS.punctuationEach * left
  const first = typed.charCodeAt(from)
  return isSeparator(first) || isPunctuation(first) || first > 127 || first === 37
    ? COSTS.gluedOn + COSTS.gluedOnEach * left
    : COSTS.gluedLetters + COSTS.gluedLettersEach * left
}
const cutCost = (left: number) => (left === 0 ? 0 : COSTS.cutOff + COSTS.cutOffEach * left)
const beforeCost = (count: number) => (count === 0 ? 0 : COSTS.gluedBefore + COSTS.gluedBeforeEach * count)

/** Parts of what was meant that may be missing behind: not so much that anything would do. */
const leastKept = (meant: number) => Math.max(3, Math.ceil(meant * 0.4))

/**
 * What it costs to have typed one text where another was meant: the cheapest series of slips (optimal string alignment,
 * weighted), with an end cut off, and text glued on before or behind, as slips of their own. Both texts in small
 * letters. Above `most` any figure above it may come back.
 */
export function slipCost(typed: string, meant: string, most = Infinity): number {
  const cost = alignmentCost(typed, meant, most < COSTS.single ? most * 2 : most + COSTS.single)
  // Most who slip slip once (Damerau 1964): one slip is let off part of its cost, each further one counts whole.
  return cost < 2 * COSTS.single ? cost / 2 : cost - COSTS.single
}

/** The cost of the cheapest series of slips; leaves how it goes behind for `slipsOf`. */
function alignmentCost(typed: string, meant: string, most = Infinity): number {
  if (typed === meant) return 0
  const n = Math.min(typed.length, MAX_COMPARED)
  const m = Math.min(meant.length, MAX_COMPARED)
  const stride = m + 1
  cells[0] = 0
  ops[0] = Op.Kept
  for (let j = 1, before = 0; j <= m; j++) {
    const unit = meant.charCodeAt(j - 1)
    units[j] = unit
    lost[j] = omission(unit, before) + (j === 1 ? COSTS.first : 0)
    lostAgain[j] = Math.min(lost[j]!, COSTS.again)
    cells[j] = cells[j - 1]! + (j === 1 ? lost[j]! : lostAgain[j]!)
    ops[j] = Op.Lost
    before = unit
  }
  let best = Infinity
  let aBefore = 0
  let a = typed.charCodeAt(0)
  for (let i = 1; i <= n; i++) {
    const aAfter = i < n ? typed.charCodeAt(i) : 0
    const row = i * stride
    const above = row - stride
    const extra = insertion(a, aBefore, aAfter)
    const extraAgain = Math.min(extra, COSTS.again)
    const substitutes = a < 128 ? a * 128 : -1
    const glued = beforeCost(i)
    let left = cells[above]! + (i === 1 ? extra : extraAgain)
    ops[row] = Op.Extra
    if (glued < left) {
      left = glued
      ops[row] = Op.Before
    }
    cells[row] = left
    let least = left
    let op: Op = ops[row]!
    for (let j = 1; j <= m; j++) {
      const b = units[j]!
      let cost = cells[above + j - 1]!
      let by = Op.Kept
      if (a !== b) {
        cost += substitutes >= 0 && b < 128 ? SUBSTITUTIONS[substitutes + b]! : COSTS.substitution
        if (j === 1) cost += COSTS.first
      }
      const added = cells[above + j]! + (ops[above + j] === Op.Extra ? extraAgain : extra)
      if (added < cost) {
        cost = added
        by = Op.Extra
      }
      left += op === Op.Lost ? lostAgain[j]! : lost[j]!
      if (left < cost) {
        cost = left
        by = Op.Lost
      }
      if (i > 1 && j > 1 && a !== b && a === units[j - 1] && aBefore === b) {
        const swapped = cells[above - stride + j - 2]! + COSTS.swapped
        if (swapped < cost) {
          cost = swapped
          by = Op.Swapped
        }
      }
      cells[row + j] = left = cost
      ops[row + j] = op = by
      if (cost < least) least = cost
    }
    // All of what was meant stands in the first i characters; the rest hangs on.
    if (left < best) {
      const whole = left + gluedCost(typed, i)
      if (whole < best) {
        best = whole
        endI = i
        endJ = m
      }
    }
    if (least > most && best > most) return best
    aBefore = a
    a = aAfter
  }
  const last = n * stride
  for (let j = leastKept(m); j < m; j++) {
    const cut = cells[last + j]! + cutCost(m - j)
    if (cut < best) {
      best = cut
      endI = n
      endJ = j
    }
  }
  return best
}

/** The slips of the cheapest alignment, in their order; worked out for the few that are shown. */
export function slipsOf(typed: string, meant: string): Reason[] {
  if (typed === meant) return []
  alignmentCost(typed, meant)
  const n = Math.min(typed.length, MAX_COMPARED)
  const m = Math.min(meant.length, MAX_COMPARED)
  let [i, j] = [endI, endJ]
  const reasons: Reason[] = []
  if (j < m) reasons.push('cut-off')
  else if (i < n)
    reasons.push([...typed.slice(i)].every((one) => isPunctuation(one.charCodeAt(0))) ? 'punctuation' : 'glued-on')
  while (i > 0 || j > 0) {
    const a = i > 0 ? typed.charCodeAt(i - 1) : 0
    const b = j > 0 ? meant.charCodeAt(j - 1) : 0
    const op: Op = ops[i * (m + 1) + j]!
    if (op === Op.Before) {
      reasons.push('glued-before')
      break
    }
    if (op === Op.Kept) {
      if (a !== b) reasons.push(substitutionReason(a, b))
      i--
      j--
    } else if (op === Op.Swapped) {
      reasons.push('swapped')
      i -= 2
      j -= 2
    } else if (op === Op.Extra) {
      reasons.push(i > 1 && a === typed.charCodeAt(i - 2) ? 'doubled' : isSeparator(a) ? 'separator' : 'extra')
      i--
    } else {
      reasons.push(j > 1 && b === meant.charCodeAt(j - 2) ? 'doubled' : isSeparator(b) ? 'separator' : 'dropped')
      j--
    }
  }
  return reasons.reverse()
}
