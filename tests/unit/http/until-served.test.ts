import { createServer } from 'node:http'
import type { AddressInfo } from 'node:net'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { untilServed } from '../../../server/http/until-served'

let told: object = {}
let asked = 0
const gateway = createServer((_, response) => {
  asked++
  response.end(JSON.stringify(told))
})
const address = () => `http://127.0.0.1:${(gateway.address() as AddressInfo).port}`
beforeAll(() => new Promise<void>((resolve) => gateway.listen(0, '127.0.0.1', resolve)))
afterAll(() => void gateway.close())

const entryAt = (revision: number, liveAt: Date | null = null) =>
  ({ LedgerEntry: { findByPk: () => Promise.resolve({ revision, liveAt }) } }) as never

describe('an applied change', () => {
  it('is reported once every gateway has it', async () => {
    told = { status: 'ok', revision: 6 }
    let isDone = false
    const waiting = untilServed(entryAt(7), address(), 1).then(() => (isDone = true))
    while (asked < 3) await new Promise((resolve) => setTimeout(resolve, 10))
    expect(isDone).toBe(false)
    told = { status: 'ok', revision: 7 }
    await waiting
  })
  it('waits for the time it takes effect', async () => {
    const liveAt = new Date(Date.now() + 300)
    await untilServed(entryAt(7, liveAt), address(), 1)
    expect(Date.now()).toBeGreaterThanOrEqual(liveAt.getTime())
  })
  it('is not held up by a gateway without a database, or by none', async () => {
    told = { status: 'without-database', revision: 1 }
    await untilServed(entryAt(7), address(), 1)
    await untilServed(entryAt(7), 'http://127.0.0.1:9', 1)
  })
})
