import { IncomingMessage, ServerResponse } from 'node:http'
import { Socket } from 'node:net'
import { createEvent } from 'h3'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { Operation } from '../../server/contract/operation'
import { once, type Answer } from '../../server/http/once'
import { Problem } from '../../server/usecases/problem'
import type { Actor } from '../../server/usecases/ledger/change'
import { editor, refusal, TestRegister } from './register'

let register: TestRegister
let ines: Actor
beforeAll(async () => {
  register = await TestRegister.start()
  const { id } = await register.db.Member.create({
    email: 'ines@portansel.example',
    name: 'Inês Almeida',
    role: 'editor',
    passwordHash: null,
    createdAt: new Date(),
  })
  ines = { ...editor, memberId: id }
})
afterAll(() => register.stop())

const OPERATION: Operation = {
  method: 'POST',
  path: '/links',
  summary: '',
  role: 'editor',
  status: 201,
  once: true,
}

/** Sends a request with a key; tells how often its work was done. */
function sender(key: string) {
  let done = 0
  const send = (work: () => Promise<Answer>) => {
    const request = new IncomingMessage(new Socket())
    Object.assign(request, { method: 'POST', url: '/api/v1/links', headers: { 'idempotency-key': `"${key}"` } })
    const event = createEvent(request, new ServerResponse(request))
    const call = { actor: ines, body: { title: 'One' }, octets: Buffer.alloc(0) }
    return once(register.db, event, OPERATION, call, () => {
      done++
      return work()
    })
  }
  return { send, done: () => done }
}
const answers = (body: string) => () => Promise.resolve({ body, type: 'application/json', etag: '"1"' })
const fails = (error: Error) => () => Promise.reject(error)

describe('a request that is sent again with its key', () => {
  it('is answered as the first time', async () => {
    const { send, done } = sender('first')
    const first = await send(answers('{"a":1}'))
    expect(await send(answers('{"b":2}'))).toEqual(first)
    expect(done()).toBe(1)
  })
  it('is done where the first was refused', async () => {
    const { send, done } = sender('refused')
    await refusal(send(fails(new Problem(409, 'Taken', 'It is taken.'))))
    expect((await send(answers('{}'))).body).toBe('{}')
    expect(done()).toBe(2)
  })
  it('is not done where nobody knows what became of the first', async () => {
    const { send, done } = sender('lost')
    await expect(send(fails(new Error('the connection went away while it was committed')))).rejects.toThrow('went away')
    expect((await refusal(send(answers('{}')))).status).toBe(409)
    expect(done()).toBe(1)
  })
  it('is answered the first time also where the answer cannot be kept', async () => {
    // Longer than the column holds: 16 MiB (MariaDB, MEDIUMTEXT).
    const body = 'x'.repeat(17_000_000)
    const { send, done } = sender('long')
    expect((await send(answers(body))).body).toHaveLength(body.length)
    expect((await refusal(send(answers('{}')))).status).toBe(409)
    expect(done()).toBe(1)
  })
})
