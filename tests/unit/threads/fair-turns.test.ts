import { describe, expect, it } from 'vitest'
import { onBehalfOf } from '../../../server/threads/asker'
import { FairTurns } from '../../../server/threads/fair-turns'

/** Work that ends when it is told to. */
function job() {
  const aborter = new AbortController()
  const done = new Promise<void>((resolve) => aborter.signal.addEventListener('abort', () => resolve()))
  return { done, end: () => aborter.abort() }
}
const settle = () => new Promise<void>((resolve) => setImmediate(resolve))
const limits = { atOnce: 2, waiting: 10, waitingPerAsker: 3, what: 'Computations' }

/** Runs jobs by name for members, and notes in which order they begin. */
function bench(turns: FairTurns) {
  const begun: string[] = []
  const ask = (member: string, name: string, signal?: AbortSignal) => {
    const work = job()
    const result = onBehalfOf({ key: member, signal }, () =>
      turns.run(async () => {
        begun.push(name)
        await work.done
        return name
      }),
    )
    result.catch(() => undefined)
    return { result, end: work.end }
  }
  return { begun, ask }
}

describe('fair turns', () => {
  it('leave a place to others, however much one member asks for', async () => {
    const { begun, ask } = bench(new FairTurns(limits))
    ask('viewer', 'v1')
    ask('viewer', 'v2')
    ask('viewer', 'v3')
    ask('administrator', 'a1')
    await settle()
    expect(begun).toEqual(['v1', 'a1'])
  })

  it('come to whoever was served longest ago', async () => {
    const { begun, ask } = bench(new FairTurns({ ...limits, atOnce: 1 }))
    const first = ask('one', '1a')
    ask('one', '1b')
    const other = ask('two', '2a')
    await settle()
    first.end()
    await settle()
    expect(begun).toEqual(['1a', '2a'])
    other.end()
    await settle()
    expect(begun).toEqual(['1a', '2a', '1b'])
  })

  it('refuse the fourth that waits of one member, and the eleventh of all', async () => {
    const { ask } = bench(new FairTurns(limits))
    for (let number = 0; number < 4; number++) ask('viewer', `v${number}`)
    await expect(ask('viewer', 'v4').result).rejects.toMatchObject({ status: 429 })
    for (let number = 0; number < 8; number++) ask(`m${number}`, 'x')
    await expect(ask('late', 'l').result).rejects.toMatchObject({ status: 503 })
  })

  it('let waiting work go whose client is gone, and free its place', async () => {
    const turns = new FairTurns({ ...limits, atOnce: 1 })
    const { begun, ask } = bench(turns)
    const first = ask('one', '1a')
    const aborter = new AbortController()
    const left = ask('two', '2a', aborter.signal)
    ask('three', '3a')
    aborter.abort()
    await expect(left.result).rejects.toMatchObject({ title: 'Gone' })
    first.end()
    await settle()
    expect(begun).toEqual(['1a', '3a'])
  })

  it('go on after work that failed', async () => {
    const turns = new FairTurns({ ...limits, atOnce: 1 })
    await expect(turns.run(() => Promise.reject(new Error('no')))).rejects.toThrow('no')
    expect(await turns.run(() => Promise.resolve(1))).toBe(1)
  })
})
