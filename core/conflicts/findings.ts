import type { Conflict, SurveyDiff } from './model'

/**
 * Conflicts as they are found, by their keys. A conflict may be given by several examinations (a loop by each link in it)
 * and goes when none gives it any more; pairs belong to their two links. Between `begin` and `end` it keeps a journal.
 */
export class Findings {
  readonly found = new Map<string, Conflict>()
  private readonly givers = new Map<string, Set<string>>()
  private readonly given = new Map<string, Set<string>>()
  private readonly pairs = new Map<number, Set<string>>()
  private journal: Map<string, Conflict | undefined> | undefined

  clear(): void {
    for (const map of [this.found, this.givers, this.given, this.pairs]) map.clear()
  }

  begin(): void {
    this.journal = new Map()
  }

  /** What came, went and was given anew since `begin`. */
  end(): SurveyDiff {
    const diff: SurveyDiff = { added: [], removed: [], changed: [] }
    for (const [key, before] of this.journal ?? []) {
      const now = this.found.get(key)
      if (now && !before) diff.added.push(now)
      if (before && !now) diff.removed.push(before)
      if (before && now) diff.changed.push({ before, now })
    }
    this.journal = undefined
    return diff
  }

  /** Notes that everything was found anew; `before` is what there was. */
  replaced(before: ReadonlyMap<string, Conflict>): void {
    for (const key of new Set([...before.keys(), ...this.found.keys()]))
      if (!this.journal?.has(key)) this.journal?.set(key, before.get(key))
  }

  private remember(key: string): void {
    if (this.journal && !this.journal.has(key)) this.journal.set(key, this.found.get(key))
  }

  putPair(conflict: Conflict): void {
    this.remember(conflict.key)
    this.found.set(conflict.key, conflict)
    for (const id of conflict.links) addTo(this.pairs, id, conflict.key)
  }

  /** Drops the pairs a link is part of. */
  dropPairs(link: number): void {
    for (const key of [...(this.pairs.get(link) ?? [])]) {
      const conflict = this.found.get(key)!
      this.remember(key)
      this.found.delete(key)
      for (const id of conflict.links) this.pairs.get(id)?.delete(key)
    }
  }

  give(giver: string, conflict: Conflict): void {
    this.remember(conflict.key)
    this.found.set(conflict.key, conflict)
    addTo(this.givers, conflict.key, giver)
    addTo(this.given, giver, conflict.key)
  }

  /** Takes back what an examination gave. */
  withdraw(giver: string): void {
    this.withdrawWhere(giver, () => true)
    this.given.delete(giver)
  }

  withdrawWhere(giver: string, matches: (conflict: Conflict) => boolean): void {
    for (const key of [...(this.given.get(giver) ?? [])]) {
      if (!matches(this.found.get(key)!)) continue
      this.given.get(giver)!.delete(key)
      const givers = this.givers.get(key)!
      givers.delete(giver)
      if (givers.size > 0) continue
      this.remember(key)
      this.givers.delete(key)
      this.found.delete(key)
    }
  }
}

function addTo<Key, Item>(map: Map<Key, Set<Item>>, key: Key, item: Item): void {
  const set = map.get(key)
  if (set) set.add(item)
  else map.set(key, new Set([item]))
}
