import { describe, expect, it } from 'vitest'
import { takeBack, type PastEntry, type States } from '../../../core/ledger'

const states = (entries: Record<string, object>): States => new Map(Object.entries(entries) as never)
const entry = (kind: string, subjectId: number, before: object | null, after: object | null) =>
  ({ kind, subjectId, before, after }) as PastEntry

describe('taking entries back', () => {
  it('gives fields their values of before and leaves others', () => {
    const now = states({ 'link 1': { destination: 'c', owner: 'x' } })
    takeBack(now, [
      entry('link', 1, { destination: 'b', owner: 'x' }, { destination: 'c', owner: 'x' }),
      entry('link', 1, { destination: 'a' }, { destination: 'b' }),
    ])
    expect(now.get('link 1')).toEqual({ destination: 'a', owner: 'x' })
  })
  it('takes away what was made, and gives back what was removed', () => {
    const now = states({ 'rule 1': { pattern: '/a' } })
    takeBack(now, [entry('rule', 1, null, { pattern: '/a' }), entry('rule', 2, { pattern: '/b' }, null)])
    expect([...now]).toEqual([['rule 2', { pattern: '/b' }]])
  })
  it('takes an entry about several links apart', () => {
    const now = states({ 'link 1': { destination: 'new', owner: 'x' }, 'link 2': { destination: 'new' } })
    const before = { links: { 1: { destination: 'old1' }, 2: { destination: 'old2' } } }
    const touched = takeBack(now, [entry('links', 0, before, { links: {} })])
    expect(now.get('link 1')).toEqual({ destination: 'old1', owner: 'x' })
    expect(now.get('link 2')).toEqual({ destination: 'old2' })
    expect(touched).toEqual(new Set(['link 1', 'link 2']))
  })
  it('passes over what kept no state', () => {
    const now = states({ 'link 1': { destination: 'a' } })
    expect(takeBack(now, [entry('link', 1, null, null)])).toEqual(new Set())
    expect(now.get('link 1')).toEqual({ destination: 'a' })
  })
})
