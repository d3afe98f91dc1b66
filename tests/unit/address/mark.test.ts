import { describe, expect, it } from 'vitest'
import { markIn, markOf, placementOf, withoutMark } from '../../../core/address'
import { answer } from '../../../core/table'
import { tableOf } from '../table/rows'

describe('the mark of a placement', () => {
  it('is its number, there and back, in letters that cannot be mistaken', () => {
    const marks = new Set<string>()
    for (const id of [1, 2, 31, 32, 960, 961, 30_000, 4_294_967_295]) {
      const mark = markOf(id)
      expect(mark).toMatch(/^[a-hj-km-np-z2-9]{2,12}$/)
      expect(placementOf(mark)).toBe(id)
      marks.add(mark)
    }
    expect(marks.size).toBe(8)
    for (const none of ['', 'a', 'O0', 'zzzzzzzzzzzzzzz', 'aab']) expect(placementOf(none)).toBeUndefined()
  })

  it.each([
    ['/fares?~=bk', 'bk', ''],
    ['/fares?a=1&~=bk&b=2', 'bk', 'a=1&b=2'],
    ['/fares?~=bk&~=cd', 'bk', ''],
    ['/fares?a=~=bk', '', 'a=~=bk'],
    ['/fares?~=<script>', '', ''],
    ['/fares?~', '', '~'],
    ['/~=bk', '', ''],
    ['/fares', '', ''],
  ])('%s has “%s”, and leaves the query “%s”', (target, mark, query) => {
    expect(markIn(target)).toBe(mark)
    expect(withoutMark(target.split('?')[1] ?? '')).toBe(query)
  })

  it('goes no further than to us, whatever else is carried', () => {
    const table = tableOf([{ query: 'carry', destination: 'https://www.example/fares?x=1' }])
    const ask = (target: string) => answer(table, { method: 'GET', host: 'ansl.example', target }, 0).location
    expect(ask('/fares?~=bk')).toBe('https://www.example/fares?x=1')
    expect(ask('/fares?a=1&~=bk')).toBe('https://www.example/fares?x=1&a=1')
  })
})
