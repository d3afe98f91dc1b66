/**
 * The fewest ids that must move to bring one order into another: those outside a longest common run (longest increasing
 * subsequence).
 */
export function movedOf(from: readonly number[], to: readonly number[]): number[] {
  const place = new Map(from.map((id, index) => [id, index]))
  const tails: number[] = []
  const before: (number | undefined)[] = []
  to.forEach((id, index) => {
    let low = 0
    let high = tails.length
    while (low < high) {
      const middle = (low + high) >> 1
      if (place.get(to[tails[middle]!]!)! < place.get(id)!) low = middle + 1
      else high = middle
    }
    before[index] = low > 0 ? tails[low - 1] : undefined
    tails[low] = index
  })
  const stay = new Set<number>()
  for (let at = tails.at(-1); at !== undefined; at = before[at]) stay.add(to[at]!)
  return to.filter((id) => !stay.has(id))
}
