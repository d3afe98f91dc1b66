import { describe, expect, it } from 'vitest'
import type { Operation } from '../../../server/contract/operation'
import { methodsAt } from '../../../server/contract/methods-at'
import { operations } from '../../../server/contract/operations'

describe('the methods of a path', () => {
  it('hold every operation’s own', () => {
    for (const { path, method } of Object.values(operations) as Operation[])
      expect(methodsAt(path.replace(/\{\w+\}/g, '1')), path).toContain(method)
  })
  it.each([
    ['/nothing-here', []],
    ['/links/1/2/3/4/5', []],
    ['/linksx', []],
    ['/../links', []],
  ])('%s: %j', (path, methods) => expect(methodsAt(path)).toEqual(methods))
  it('are those of one thing and of all of its kind', () => {
    expect(methodsAt('/links').sort()).toEqual(['GET', 'HEAD', 'POST'])
    expect(methodsAt('/traffic/events')).toEqual(['GET'])
    expect(methodsAt('/links/1')).not.toContain('DELETE')
  })
})
