import { Socket } from 'node:dgram'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest'
import { QueryTypes } from 'sequelize'
import { workerVariables } from '../../environment/variables'
import { startMariaDb, type PrivateMariaDb } from '../../scripts/mariadb'
import { freePort } from '../../scripts/ports'
import { migrate } from '../../server/database/migrate'
import { openDatabase, type Database } from '../../server/database/open'
import { makeNamesContext } from '../../server/names/context'
import { listCases } from '../../server/usecases/docket/list-cases'
import { forgetObservations } from '../../server/usecases/domains/domain-observations'
import { makeWatch } from '../../worker/watch-domains'
import { GATEWAY, Outside, top } from './outside'

const DOMAINS = 1000
let outside: Outside
let server: PrivateMariaDb
let db: Database
const folder = mkdtempSync(join(tmpdir(), 'fides-watch-'))
beforeAll(async () => {
  outside = await Outside.start()
  outside.world.put('many.example.', `${top('many.example')}* IN CNAME ${GATEWAY.name}.\n`)
  server = await startMariaDb(join(folder, 'mariadb'), await freePort())
  db = openDatabase(server.url)
  await migrate(db.sequelize)
  const createdAt = new Date()
  await db.Organisation.create({ name: 'Many', timeZone: 'UTC', createdAt })
  await db.Domain.bulkCreate(
    Array.from({ length: DOMAINS }, (_, index) => ({
      host: `d${index}.many.example`,
      standing: index % 2 ? ('open' as const) : ('not-proved' as const),
      createdAt,
      updatedAt: createdAt,
    })),
  )
})
afterAll(async () => {
  await db.sequelize.close()
  await server.stop()
  await outside.stop()
  rmSync(folder, { recursive: true, force: true })
})

describe('the watch over 1,000 domains', () => {
  it('lets no more than 50 questions a second leave, over two looks at once', async () => {
    const settings = { FIDES_GATEWAY_PORT: 9 } as Parameters<Outside['environment']>[0]
    const names = makeNamesContext(
      workerVariables.parse({
        FIDES_DATABASE_URL: server.url,
        FIDES_SECRET: 'x'.repeat(32),
        ...outside.environment(settings),
      }),
    )
    // Our questions leave by connected sockets, the stand-ins' answers do not.
    const left: number[] = []
    const send = Socket.prototype.send
    const spy = vi.spyOn(Socket.prototype, 'send').mockImplementation(function (this: Socket, ...given: unknown[]) {
      if (given.length === 1) left.push(performance.now())
      return (send as (...all: unknown[]) => void).apply(this, given)
    })
    let stopping = false
    const watch = makeWatch(
      names,
      () => undefined,
      () => stopping,
    )
    const running = watch(db)
    const until = Date.now() + 30_000
    while (left.length < 300 && Date.now() < until) await new Promise((resolve) => setTimeout(resolve, 20))
    stopping = true
    await running
    spy.mockRestore()
    expect(left.length).toBeGreaterThanOrEqual(300)
    const most = Math.max(
      ...left.map((start) => left.filter((moment) => moment >= start && moment < start + 1000).length),
    )
    expect(most).toBeLessThanOrEqual(50)
    // And they were not idle either.
    expect(left.length / ((left.at(-1)! - left[0]!) / 1000)).toBeGreaterThan(10)
    const [looked] = await db.sequelize.query<{ domains: number }>(
      'SELECT COUNT(*) AS domains FROM domain_watch WHERE looked_at IS NOT NULL',
      { type: QueryTypes.SELECT },
    )
    expect(Number(looked!.domains)).toBeGreaterThan(0)
  })

  it('is taken up by one process at a time for each domain', async () => {
    const leased = await db.DomainWatch.findOne({ where: { leasedUntil: null } })
    expect(leased).not.toBeNull()
    await db.DomainWatch.update({ leasedUntil: new Date(Date.now() + 60_000) }, { where: {} })
    const left = vi.spyOn(Socket.prototype, 'send')
    const settings = { FIDES_GATEWAY_PORT: 9 } as Parameters<Outside['environment']>[0]
    const names = makeNamesContext(
      workerVariables.parse({
        FIDES_DATABASE_URL: server.url,
        FIDES_SECRET: 'x'.repeat(32),
        ...outside.environment(settings),
      }),
    )
    await makeWatch(names, () => undefined)(db)
    expect(left).not.toHaveBeenCalled()
    left.mockRestore()
  })

  it('counts a domain’s visits once on the docket, however many cases it has', async () => {
    const at = new Date()
    const row = (domainId: number, subject: string, impact: number) => ({
      lane: 'domains' as const,
      kind: 'server-lame',
      caseKey: subject.padEnd(64, '-'),
      domainId,
      linkId: null,
      subject,
      severity: 'doubtful' as const,
      headline: subject,
      sentence: subject,
      evidence: [],
      impact,
      openedAt: at,
      seenAt: at,
    })
    await db.DocketCase.destroy({ where: {} })
    await db.DocketCase.bulkCreate([row(1, 'a', 5), row(1, 'b', 5), row(2, 'c', 3)])
    const { lanes, items } = await listCases(db, { state: 'open' })
    expect(lanes).toEqual([{ lane: 'domains', cases: 3, visits: 8, remarks: 0 }])
    expect(items.map((item) => item.impact)).toEqual([5, 5, 3])
  })

  it('forgets superseded answers in time, and keeps the latest', async () => {
    const latest = await db.Observation.count({ where: { latest: true } })
    await db.Observation.update(
      { latest: false, lastAt: new Date(Date.now() - 100 * 86_400_000) },
      { where: { latest: true }, limit: 5 },
    )
    expect(await forgetObservations(db, 90)).toBe(5)
    expect(await db.Observation.count({ where: { latest: true } })).toBe(latest - 5)
  })
})
