import { describe, expect, it } from 'vitest'
import { VisitorKey } from '../../../gateway/visitor-key'

const NOON = Date.parse('2026-11-19T12:00:00Z')
const MIDNIGHT = Date.parse('2026-11-20T00:00:00Z')

/** A key of a gateway whose database answers where `there` says so. */
function gateway(there: () => boolean = () => true) {
  const asked: string[] = []
  let made = 0
  const key = new VisitorKey(
    (day) => {
      asked.push(day)
      return there() ? Promise.resolve(Buffer.from(`shared ${day}`)) : Promise.reject(new Error('away'))
    },
    () => Buffer.from(`own ${++made}`),
  )
  const at = (now: number) => key.at(now).toString()
  return { key, at, asked }
}
const settled = () => new Promise((resolve) => setImmediate(resolve))

describe('the secret behind visitor tokens', () => {
  it('is the shared one from the first visitor on, where it was waited for', async () => {
    const { key, at, asked } = gateway()
    await key.ready(NOON)
    expect(at(NOON)).toBe('shared 2026-11-19')
    expect(at(NOON + 1000)).toBe('shared 2026-11-19')
    expect(asked).toEqual(['2026-11-19'])
  })
  it('is agreed on before its day begins: nobody is two people at midnight', async () => {
    const { key, at, asked } = gateway()
    await key.ready(NOON)
    at(MIDNIGHT - 600_001)
    await settled()
    expect(asked).toEqual(['2026-11-19'])
    expect(at(MIDNIGHT - 300_000)).toBe('shared 2026-11-19')
    await settled()
    expect(at(MIDNIGHT - 1)).toBe('shared 2026-11-19')
    expect(at(MIDNIGHT)).toBe('shared 2026-11-20')
    expect(asked).toEqual(['2026-11-19', '2026-11-20'])
  })
  it('is thrown away with its day', async () => {
    const { key, at } = gateway(() => false)
    await key.ready(NOON)
    expect(at(NOON)).toBe('own 1')
    expect(at(MIDNIGHT)).toBe('own 2')
    expect(at(NOON)).toBe('own 3')
  })
  it('is one of the gateway’s own while the database is away, which is asked once a second', async () => {
    let there = false
    const { key, at, asked } = gateway(() => there)
    await key.ready(NOON)
    for (let late = 0; late < 1000; late += 10) {
      expect(at(NOON + late)).toBe('own 1')
      await settled()
    }
    expect(asked).toHaveLength(1)
    there = true
    at(NOON + 1000)
    await settled()
    expect(at(NOON + 1001)).toBe('shared 2026-11-19')
  })
})
