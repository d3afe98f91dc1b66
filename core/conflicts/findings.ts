import type { Subject } from './finder'
import type { Conflict, SurveyDiff } from './model'

/** Who found something: which finder, of which subject. */
interface Giver {
  subject: Subject
  keys: Set<string>
}

interface Finding {
  /** What each giver says of it. */
  said: Map<Giver, Conflict>
  /** All of it together. */
  conflict: Conflict
}

const union = (lists: readonly (readonly number[])[]) => [...new Set(lists.flat())].sort((a, b) => a - b)

/** One conflict of what several say: a circle is found by each address that leads into it. */
function together(said: Iterable<Conflict>): Conflict {
  const all = [...said]
  const [first] = all
  return all.length === 1
    ? first!
    : { ...first!, links: union(all.map(({ links }) => links)), rules: union(all.map(({ rules }) => rules)) }
}

/**
 * Conflicts as they are found, by their keys. One may be found of several subjects and goes when it is found of none
 * any more; until then it is what those that are left say. Between `begin` and `end` it keeps a journal.
 */
export class Findings {
  private readonly found = new Map<string, Finding>()
  private givers: Map<Subject, Giver>[] = []
  private readonly byLink = new Map<number, Set<Giver>>()
  private readonly byRule = new Map<number, Set<Giver>>()
  private journal: Map<string, Conflict | undefined> | undefined;

  *[Symbol.iterator](): IterableIterator<Conflict> {
    for (const { conflict } of this.found.values()) yield conflict
  }
  get size(): number {
    return this.found.size
  }
  get(key: string): Conflict | undefined {
    return this.found.get(key)?.conflict
  }

  clear(): void {
    for (const map of [this.found, this.byLink, this.byRule]) map.clear()
    this.givers = []
  }

  begin(): void {
    this.journal = new Map()
  }

  /** What came, went and was found anew since `begin`. */
  end(): SurveyDiff {
    const diff: SurveyDiff = { added: [], removed: [], changed: [] }
    for (const [key, before] of this.journal ?? []) {
      const now = this.get(key)
      if (now && !before) diff.added.push(now)
      if (before && !now) diff.removed.push(before)
      if (before && now) diff.changed.push({ before, now })
    }
    this.journal = undefined
    return diff
  }

  /** Subjects of a finder whose findings are about one of these links or rules. */
  *mentioning(finder: number, links: Iterable<number>, rules: Iterable<number>): Generator<Subject> {
    const mine = this.givers[finder]
    const of = function* (index: ReadonlyMap<number, ReadonlySet<Giver>>, ids: Iterable<number>) {
      for (const id of ids)
        for (const giver of index.get(id) ?? []) if (mine?.get(giver.subject) === giver) yield giver.subject
    }
    yield* of(this.byLink, links)
    yield* of(this.byRule, rules)
  }

  give(finder: number, subject: Subject, conflict: Conflict): void {
    this.remember(conflict.key)
    const giver = this.giver(finder, subject)
    giver.keys.add(conflict.key)
    const finding = this.found.get(conflict.key)
    if (finding) {
      finding.said.set(giver, conflict)
      finding.conflict = together(finding.said.values())
    } else this.found.set(conflict.key, { said: new Map([[giver, conflict]]), conflict })
    for (const id of conflict.links) addTo(this.byLink, id, giver)
    for (const id of conflict.rules) addTo(this.byRule, id, giver)
  }

  /** Takes back what was found of a subject. */
  withdraw(finder: number, subject: Subject): void {
    const giver = this.givers[finder]?.get(subject)
    if (!giver) return
    for (const key of giver.keys) {
      this.remember(key)
      const finding = this.found.get(key)!
      const conflict = finding.said.get(giver)!
      for (const id of conflict.links) removeFrom(this.byLink, id, giver)
      for (const id of conflict.rules) removeFrom(this.byRule, id, giver)
      finding.said.delete(giver)
      if (finding.said.size === 0) this.found.delete(key)
      else finding.conflict = together(finding.said.values())
    }
    this.givers[finder]!.delete(subject)
  }

  private giver(finder: number, subject: Subject): Giver {
    const mine = (this.givers[finder] ??= new Map())
    let giver = mine.get(subject)
    if (!giver) mine.set(subject, (giver = { subject, keys: new Set() }))
    return giver
  }

  private remember(key: string): void {
    if (this.journal && !this.journal.has(key)) this.journal.set(key, this.get(key))
  }
}

function addTo(map: Map<number, Set<Giver>>, id: number, giver: Giver): void {
  const set = map.get(id)
  if (set) set.add(giver)
  else map.set(id, new Set([giver]))
}

function removeFrom(map: Map<number, Set<Giver>>, id: number, giver: Giver): void {
  const set = map.get(id)
  set?.delete(giver)
  if (set?.size === 0) map.delete(id)
}
