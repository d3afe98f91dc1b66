import { Agent, request } from 'node:http'
import { QueryTypes } from 'sequelize'
import mariadb from 'mariadb'
import { rawVisits } from '../../server/usecases/traffic/visit-parts'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { connectionConfig } from '../../environment/database-url'
import { storeBatches } from '../../shipper/batch'
import type { VisitEvent } from '../../core/visits'
import { TestFides, until } from './fides'

let fides: TestFides
beforeAll(async () => {
  fides = await TestFides.start()
  await fides.link({ slug: 'busy' })
  await until('the link at the gateway', async () => (await fides.visit('ansl.example/busy')).status === 302)
})
afterAll(() => fides.stop())

/** Visitors one after another on several connections; each is known by its referrer, so that it can be found again. */
class Load {
  readonly answered = new Map<string, number>()
  failed = 0
  /** What failed, by what it was told, and when it was first. */
  readonly faults: Record<string, number> = {}
  private running = true
  private count = 0
  private readonly loops: Promise<void>[]
  private readonly agent = new Agent({ keepAlive: true, maxSockets: 8 })

  constructor(
    private readonly mark: string,
    private readonly pauseMs: number,
  ) {
    this.loops = Array.from({ length: 8 }, () => this.loop())
  }
  private async loop(): Promise<void> {
    while (this.running) {
      const name = `${this.mark}${++this.count}.test`
      const status = await this.ask(name).catch((error: NodeJS.ErrnoException) => error.code ?? error.message)
      if (status === 302) this.answered.set(name, Date.now())
      else {
        this.failed++
        this.faults[status] = (this.faults[status] ?? 0) + 1
      }
      await new Promise((resolve) => setTimeout(resolve, this.pauseMs))
    }
  }
  private ask(referrer: string): Promise<number> {
    return new Promise((resolve, reject) => {
      request(
        {
          agent: this.agent,
          host: '127.0.0.1',
          port: fides.system.settings.FIDES_GATEWAY_PORT,
          path: '/busy',
          headers: {
            host: 'ansl.example',
            referer: `https://${referrer}/`,
            'user-agent': 'Mozilla/5.0 (X11; Linux x86_64; rv:132.0) Gecko/20100101 Firefox/132.0',
          },
        },
        (response) => response.resume().on('end', () => resolve(response.statusCode!)),
      )
        .on('error', reject)
        .end()
    })
  }
  async stop(): Promise<void> {
    this.running = false
    await Promise.all(this.loops)
    this.agent.destroy()
  }
}

async function stored(mark: string): Promise<Map<string, number>> {
  const times = new Map<string, number>()
  const [from, to] = [new Date(Date.now() - 86_400_000), new Date(Date.now() + 60_000)]
  for await (const { referrer } of rawVisits(fides.db, from, to))
    if (referrer.startsWith(mark)) times.set(referrer, (times.get(referrer) ?? 0) + 1)
  return times
}
const spooled = async () =>
  (
    (await (await fetch(`http://127.0.0.1:${fides.system.settings.FIDES_GATEWAY_CONTROL_PORT}/health`)).json()) as {
      spooledBatches: number
    }
  ).spooledBatches

describe('the gateway killed under load', () => {
  it('has every visit answered before the last flush in the database once, after it starts again', async () => {
    const load = new Load('killed', 2)
    await until('some load', () => load.answered.size > 2500, 30_000)
    await fides.kill('gateway')
    const killedAt = Date.now()
    await load.stop()
    await fides.startGateway()
    // The spool is flushed every 100 ms; half a second leaves room for a machine that was busy.
    const safe = [...load.answered].filter(([, at]) => at < killedAt - 500).map(([name]) => name)
    expect(safe.length).toBeGreaterThan(500)
    await until(
      'all stored',
      async () => {
        const found = await stored('killed')
        return safe.every((name) => found.has(name))
      },
      30_000,
    )
    await until('the spool empty', async () => (await spooled()) === 0)
    const found = await stored('killed')
    expect([...found].filter(([, times]) => times !== 1)).toEqual([])
    // A visit that was recorded though its answer was lost with the process is one that happened.
    expect(found.size).toBeLessThanOrEqual(load.answered.size + load.failed)
  })
})

describe('a batch sent twice', () => {
  it('counts once', async () => {
    const events = Array.from({ length: 700 }, (_, index): VisitEvent => ({
      at: Date.now(),
      domainId: 1,
      linkId: 1,
      kind: 'visit',
      status: 302,
      outcome: 'redirect',
      path: '',
      ruleId: 0,
      mended: '',
      after: '',
      page: '',
      referrer: `twice${index}.test`,
      country: '',
      language: '',
      device: '',
      system: '',
      browser: '',
      visitor: '',
    }))
    const [one, two] = await Promise.all([
      mariadb.createConnection(connectionConfig(fides.system.databaseUrl)),
      mariadb.createConnection(connectionConfig(fides.system.databaseUrl)),
    ])
    const counted = async () =>
      Number(
        (
          await fides.db.sequelize.query<{ visits: number }>(
            'SELECT COALESCE(SUM(visits), 0) AS visits FROM visit_day WHERE link_id = 1',
            { type: QueryTypes.SELECT },
          )
        )[0]!.visits,
      )
    const before = await counted()
    const twice = [{ key: 'twice', events, cuts: [] }]
    // At the same moment from two connections, and once more afterwards.
    const results = await Promise.all([storeBatches(one, twice, 'UTC'), storeBatches(two, twice, 'UTC')])
    expect(results.sort()).toEqual([0, 700])
    expect(await storeBatches(one, twice, 'UTC')).toBe(0)
    expect((await stored('twice')).size).toBe(700)
    expect([...(await stored('twice')).values()].every((times) => times === 1)).toBe(true)
    expect((await counted()) - before).toBe(700)
    await Promise.all([one.end(), two.end()])
  })
})

describe('MariaDB gone for 30 s under load', () => {
  it('is noticed by no visitor and loses no visit, and the gateway even starts again without it', async () => {
    // Half a snapshot interval more than it takes: the table of now must be on disk.
    await until('a snapshot', async () => {
      const { existsSync } = await import('node:fs')
      return existsSync(`${fides.system.settings.folder}/gateway/1/table.snapshot`)
    })
    const load = new Load('outage', 10)
    await until('some load', () => load.answered.size > 100)
    expect((await fides.call('administrator', 'GET', '/health')).body.database.status).toBe('ok')
    await fides.system.crashDatabase()
    const downAt = Date.now()
    const desk = await fides.call('editor', 'GET', '/links')
    expect(desk.status).toBe(503)
    expect(desk.body.detail).toContain('database is not responding')
    // Who was signed in lately is still told what is wrong.
    expect((await fides.call('administrator', 'GET', '/health')).body).toMatchObject({
      status: 'degraded',
      database: { status: 'down' },
    })
    await until('30 s', () => Date.now() - downAt >= 30_000, 40_000)
    await load.stop()
    expect(load.faults).toEqual({})

    await fides.stopGateway()
    await fides.startGateway()
    expect(await fides.visit('ansl.example/busy', { headers: { referer: 'https://outagelast.test/' } })).toMatchObject({
      status: 302,
      location: 'https://www.example/page',
    })

    fides.system.takeDatabase(await fides.startDatabaseAgain())
    await until(
      'every visit stored',
      async () => {
        const found = await stored('outage')
        return found.has('outagelast.test') && [...load.answered.keys()].every((name) => found.has(name))
      },
      60_000,
    )
    expect([...(await stored('outage')).values()].every((times) => times === 1)).toBe(true)

    const link = await fides.link({ slug: 'after' })
    await until(
      'a change after the outage at the gateway',
      async () => (await fides.visit('ansl.example/after')).status === 302,
      3000,
    )
    expect(link.id).toBeGreaterThan(0)
  }, 180_000)
})
