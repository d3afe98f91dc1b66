/** A state as the ledger keeps it. */
type State = Record<string, unknown>

/** What an entry did, as far as going back needs it. */
export interface PastEntry {
  kind: string
  subjectId: number
  before: State | null
  after: State | null
}

/** Subjects as they stand, by their kind and number; one that is not there has no state. */
export type States = Map<string, State>

export const subjectKey = (kind: string, id: number): string => `${kind} ${id}`

/**
 * Takes entries back, the newest first, from states as they are now: what stands afterwards is as it was before the
 * oldest of them. Of an entry about several links each link's part is taken back. Gives the keys of all that changed.
 */
export function takeBack(states: States, entries: Iterable<PastEntry>): Set<string> {
  const touched = new Set<string>()
  const back = (key: string, before: State | null, after: State | null) => {
    touched.add(key)
    if (before === null) states.delete(key)
    else states.set(key, { ...(after === null ? {} : states.get(key)), ...before })
  }
  for (const { kind, subjectId, before, after } of entries) {
    if (kind === 'links')
      for (const [id, part] of Object.entries((before?.links ?? {}) as Record<string, State | null>))
        back(subjectKey('link', Number(id)), part, {})
    // An entry that keeps no state of its subject changed nothing that a table is made of.
    else if (before !== null || after !== null) back(subjectKey(kind, subjectId), before, after)
  }
  return touched
}
