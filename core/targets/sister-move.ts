/** One way addresses of a site changed: what stands between is kept. */
export interface Move {
  fromStart: string
  toStart: string
  fromEnd: string
  toEnd: string
}

/** An address and where it leads now. */
export interface MovedPair {
  from: string
  to: string
}

const split = (url: string): { start: string; parts: string[]; query: string } => {
  const { origin, pathname, search } = new URL(url)
  return { start: origin, parts: pathname.split('/').slice(1), query: search }
}
const extensionOf = (part: string) => /\.[a-z0-9]{1,5}$/i.exec(part)?.[0] ?? ''

/** The move that takes one address to another by their common last parts; `undefined` where they share none. */
export function moveOf({ from, to }: MovedPair): Move | undefined {
  const [a, b] = [split(from), split(to)]
  if (a.query !== b.query) return undefined
  const parts: [string[], string[]] = [[...a.parts], [...b.parts]]
  // A slash at the end alone is a change of its own.
  const ends = parts.map((list) => (list.at(-1) === '' && list.length > 1 ? (list.pop(), '/') : '')) as [string, string]
  const extensions = parts.map((list) => extensionOf(list.at(-1) ?? '')) as [string, string]
  if (extensions[0] !== extensions[1])
    parts.forEach((list, index) => {
      const last = list.at(-1) ?? ''
      if (extensions[index]) list[list.length - 1] = last.slice(0, -extensions[index]!.length)
    })
  const [one, other] = parts
  let shared = 0
  while (
    shared < Math.min(one.length, other.length) &&
    one[one.length - 1 - shared] === other[other.length - 1 - shared] &&
    one[one.length - 1 - shared] !== ''
  )
    shared++
  if (shared === 0) return undefined
  const lead = (start: string, list: readonly string[]) =>
    [start, ...list.slice(0, list.length - shared)].join('/') + '/'
  const differ = extensions[0] !== extensions[1]
  const move: Move = {
    fromStart: lead(a.start, one),
    toStart: lead(b.start, other),
    fromEnd: (differ ? extensions[0] : '') + ends[0],
    toEnd: (differ ? extensions[1] : '') + ends[1],
  }
  return move.fromStart === move.toStart && move.fromEnd === move.toEnd ? undefined : move
}

/** Where a move takes an address; `undefined` where it says nothing of it. */
export function applyMove(move: Move, url: string): string | undefined {
  const { origin, pathname, search } = new URL(url)
  const path = origin + pathname
  if (!path.startsWith(move.fromStart) || !path.endsWith(move.fromEnd)) return undefined
  const middle = path.slice(move.fromStart.length, path.length - move.fromEnd.length)
  if (middle === '' || (move.fromEnd === '' && move.toEnd !== '' && /[/.]/.test(middle.split('/').at(-1)!)))
    return undefined
  return move.toStart + middle + move.toEnd + search
}

export interface SupportedMove {
  move: Move
  /** The pairs it explains. */
  pairs: MovedPair[]
}

/** Two alike may be chance. */
const MIN_PAIRS = 3

/**
 * The moves that explain where a host’s other addresses went, those with most to show for them first; one that takes
 * any known pair elsewhere is none.
 */
export function supportedMoves(pairs: readonly MovedPair[]): SupportedMove[] {
  const moves = new Map<string, Move>()
  for (const pair of pairs) {
    const move = moveOf(pair)
    if (move) moves.set(JSON.stringify(move), move)
  }
  return [...moves.values()]
    .map((move) => ({ move, told: pairs.map((pair) => ({ pair, to: applyMove(move, pair.from) })) }))
    .map(({ move, told }) => ({
      move,
      pairs: told.filter(({ pair, to }) => to === pair.to).map(({ pair }) => pair),
      against: told.filter(({ pair, to }) => to !== undefined && to !== pair.to).length,
    }))
    .filter(({ pairs, against }) => pairs.length >= MIN_PAIRS && against * 10 <= pairs.length)
    .sort((a, b) => b.pairs.length - a.pairs.length || b.move.fromStart.length - a.move.fromStart.length)
    .map(({ move, pairs }) => ({ move, pairs }))
}

/** A move in words. */
export function moveWords({ fromStart, toStart, fromEnd, toEnd }: Move): [from: string, to: string] {
  const same = new URL(fromStart).origin === new URL(toStart).origin
  const shown = (start: string, end: string) => (same ? new URL(start).pathname : start) + (end ? `…${end}` : '')
  return [shown(fromStart, fromEnd), shown(toStart, toEnd)]
}
