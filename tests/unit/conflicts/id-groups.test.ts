import { describe, expect, it } from 'vitest'
import { IdGroups } from '../../../core/conflicts/id-groups'
import { seeded } from '../../../server/database/seed/chance'

describe('numbers of rows under keys', () => {
  it('holds what a map of sets would hold, after any adding and removing', () => {
    const random = seeded(77)
    const groups = new IdGroups()
    const sets = new Map<string, Set<number>>()
    for (let step = 0; step < 4000; step++) {
      const key = `k${Math.floor(random() * 12)}`
      const id = Math.floor(random() * 5)
      const set = sets.get(key) ?? new Set()
      if (random() < 0.5) {
        groups.add(key, id)
        sets.set(key, set.add(id))
      } else {
        groups.remove(key, id)
        set.delete(id)
        if (set.size === 0) sets.delete(key)
      }
      expect([...groups.get(key)].sort()).toEqual([...(sets.get(key) ?? [])].sort())
    }
    expect([...groups.keys()].sort()).toEqual([...sets.keys()].sort())
    const several = [...sets].filter(([, ids]) => ids.size > 1).map(([key]) => key)
    expect([...groups.several()].filter((key) => key !== undefined).sort()).toEqual(several.sort())
    expect([...groups.several()]).toHaveLength(sets.size)
  })
})
