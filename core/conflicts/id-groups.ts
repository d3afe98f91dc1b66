/**
 * Numbers of rows under keys. Most keys of a register have one row: that is kept as the bare number, since a set for
 * each would cost more memory, and more of the collector's time, than all else a survey holds.
 */
export class IdGroups {
  private readonly groups = new Map<string, number | Set<number>>()

  /** The rows under a key; none where nobody added any. */
  get(key: string): Iterable<number> {
    const group = this.groups.get(key)
    return group === undefined ? [] : typeof group === 'number' ? [group] : group
  }

  keys(): IterableIterator<string> {
    return this.groups.keys()
  }

  /** Keys that several rows have; `undefined` for each other one, so that whoever walks them may let others run. */
  *several(): Generator<string | undefined> {
    for (const [key, group] of this.groups) yield typeof group === 'number' ? undefined : key
  }

  add(key: string, id: number): void {
    const group = this.groups.get(key)
    if (group === undefined) this.groups.set(key, id)
    else if (typeof group !== 'number') group.add(id)
    else if (group !== id) this.groups.set(key, new Set([group, id]))
  }

  remove(key: string, id: number): void {
    const group = this.groups.get(key)
    if (group === id) this.groups.delete(key)
    else if (typeof group === 'object' && group.delete(id) && group.size === 1) this.groups.set(key, [...group][0]!)
  }
}
