import { describe, expect, it } from 'vitest'
import { sessionsOf } from '../../../app/composables/ledger-sessions'
import type { LedgerEntry } from '../../../core/schemas'

const START = Date.parse('2026-12-01T12:00:00Z')
const entry = (id: number, minutesAgo: number, actor = 'Ines', action = 'change') =>
  ({ id, actor, action, at: new Date(START - minutesAgo * 60_000).toISOString() }) as LedgerEntry

describe('sessions of the ledger', () => {
  it('hold what one person did without a long pause', () => {
    const entries = [entry(9, 0), entry(8, 29), entry(7, 58), entry(6, 89), entry(5, 90, 'Rui'), entry(4, 91)]
    expect(sessionsOf(entries).map(({ shown }) => shown.map(({ id }) => id))).toEqual([[9, 8, 7], [6], [5], [4]])
  })
  it('fold all but the newest where there are several more, and count what was done', () => {
    const entries = ['change', 'change', 'pause', 'change', 'pause', 'change', 'create'].map((action, index) =>
      entry(20 - index, index, 'Ines', action),
    )
    expect(sessionsOf(entries.slice(0, 4))).toMatchObject([{ shown: { length: 4 }, folded: [] }])
    expect(sessionsOf(entries)).toMatchObject([
      {
        key: 20,
        shown: [{ id: 20 }, { id: 19 }, { id: 18 }],
        folded: { length: 4 },
        counts: [
          ['change', 2],
          ['pause', 1],
          ['create', 1],
        ],
      },
    ])
  })
  it('lose nothing and keep the order', () => {
    const entries = Array.from({ length: 60 }, (_, index) => entry(100 - index, index * 7, index % 9 < 6 ? 'A' : 'B'))
    expect(sessionsOf(entries).flatMap(({ shown, folded }) => [...shown, ...folded])).toEqual(entries)
  })
})
