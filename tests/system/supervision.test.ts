import { readFileSync } from 'node:fs'
import { Agent, request } from 'node:http'
import { join } from 'node:path'
import { QueryTypes } from 'sequelize'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { livingServings } from '../../environment/serving-folder'
import { TestFides, until } from './fides'

let fides: TestFides
beforeAll(async () => {
  fides = await TestFides.start()
  await fides.link({ slug: 'printed' })
  await until('the link is live', async () => (await fides.visit('ansl.example/printed')).status === 302)
})
afterAll(() => fides.stop())

const pids = () => new Map(fides.system.processes.map(({ name, child }) => [name, child.pid!]))
const reads = async () => (await fides.call('viewer', 'GET', '/links').catch(() => undefined))?.status === 200
const serves = async () => (await fides.visit('ansl.example/printed').catch(() => undefined))?.status === 302
/** Whether a process is there; the worker has no address to ask (kill(2), signal 0). */
const lives = (pid: number) => process.kill(pid, 0)

describe('a process that ends by itself', () => {
  it.each(['worker', 'admin', 'gateway'])('is started again alone: the %s, killed', async (name) => {
    const before = pids()
    process.kill(before.get(name)!, 'SIGKILL')
    await until(`${name} again`, () => pids().has(name) && pids().get(name) !== before.get(name))
    const after = pids()
    for (const other of before.keys()) if (other !== name) expect(after.get(other), other).toBe(before.get(other))
    expect(lives(after.get(name)!)).toBe(true)
    if (name === 'admin') await until('the desk answers', reads)
    else expect(await reads()).toBe(true)
    if (name === 'gateway') await until('the gateway answers', serves)
    else expect(await serves()).toBe(true)
    expect(fides.lines.some((line) => line.startsWith(`${name} ended unexpectedly`))).toBe(true)
  })

  it('takes nobody along: the leading process of the gateway, killed, is noticed by no visitor', async () => {
    const state = join(fides.system.settings.folder, 'gateway')
    const before = livingServings(state)
    expect(before.length).toBeGreaterThan(0)
    const lead = pids().get('gateway')!
    const agent = new Agent({ keepAlive: false })
    let failed = 0
    let answered = 0
    const ask = () =>
      new Promise<void>((resolve) => {
        request(
          {
            host: '127.0.0.1',
            port: fides.system.settings.FIDES_GATEWAY_PORT,
            path: '/printed',
            agent,
            headers: { host: 'ansl.example' },
          },
          (response) => {
            answered += Number(response.statusCode === 302)
            response.resume().on('end', resolve)
          },
        )
          .on('error', () => {
            failed++
            resolve()
          })
          .end()
      })
    process.kill(lead, 'SIGKILL')
    // Until fresh processes have taken the place of those that served on, and these have ended.
    await until(
      'fresh processes serve alone',
      async () => {
        await Promise.all([ask(), ask(), ask()])
        const now = livingServings(state)
        return now.length > 0 && now.every((pid) => !before.includes(pid))
      },
      60_000,
    )
    expect({ failed, isAnswered: answered > 10 }).toEqual({ failed: 0, isAnswered: true })
    // A change reaches visitors through the new ones.
    await fides.link({ slug: 'after-the-kill' })
    await until('live', async () => (await fides.visit('ansl.example/after-the-kill')).status === 302)
  })

  it('has its work taken up within 15 s: the worker, killed', async () => {
    const held = async () => {
      const [row] = await fides.db.sequelize.query<{ by: string | null; held: number }>(
        "SELECT leased_by AS `by`, leased_until > UTC_TIMESTAMP(3) AS held FROM job WHERE kind = 'conflicts'",
        { type: QueryTypes.SELECT },
      )
      return row?.held ? row.by : null
    }
    await until('the watch of conflicts is at work', async () => (await held()) !== null)
    const before = await held()
    process.kill(pids().get('worker')!, 'SIGKILL')
    const killed = Date.now()
    await until('another worker has it', async () => ![null, before].includes(await held()), 20_000)
    expect(Date.now() - killed).toBeLessThan(15_000)
  })

  it('is told of while it is stopped and does not answer: the private database', async () => {
    const pid = Number(readFileSync(`${fides.system.databaseFolder}/server.pid`, 'utf8'))
    expect((await fides.call('administrator', 'GET', '/health')).body.database.status).toBe('ok')
    process.kill(pid, 'SIGSTOP')
    try {
      const asked = Date.now()
      const { body } = await fides.call('administrator', 'GET', '/health')
      expect(Date.now() - asked).toBeLessThan(5000)
      expect(body).toMatchObject({
        status: 'degraded',
        database: { status: 'down' },
        processes: { gateway: { status: expect.any(String) }, worker: { status: 'unknown' } },
      })
      expect(await serves()).toBe(true)
    } finally {
      process.kill(pid, 'SIGCONT')
    }
    await until('all is well', async () => (await fides.call('viewer', 'GET', '/health')).body.status === 'ok', 30_000)
  })

  it('is started again alone: the private database, killed; visitors notice nothing', async () => {
    const before = pids()
    const pid = Number(readFileSync(`${fides.system.databaseFolder}/server.pid`, 'utf8'))
    process.kill(pid, 'SIGKILL')
    let refused = 0
    const answered = await until('the desk answers again', async () => {
      if (!(await serves())) refused++
      return reads()
    })
    expect(answered).toBe(true)
    expect(refused).toBe(0)
    expect(pids()).toEqual(before)
  })
})
