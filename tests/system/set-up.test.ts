import { networkInterfaces } from 'node:os'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { QueryTypes } from 'sequelize'
import { migrate } from '../../server/database/migrate'
import { makeSetupTicket } from '../../server/usecases/people/setup'
import { registerJobs, runDueJob } from '../../worker/leases'
import { refreshVisitFigures } from '../../server/usecases/traffic/refresh-visit-figures'
import { TestFides } from './fides'

// On IPv6 where the machine has it: desk and gateway are asked there by all that follows.
const hasIpv6 = Object.values(networkInterfaces()).some((all) => all?.some(({ address }) => address === '::1'))
let fides: TestFides
beforeAll(async () => (fides = await TestFides.start({ bare: true, ...(hasIpv6 && { host: '::1' }) })))
afterAll(() => fides.stop())

const FIRST = {
  organisation: 'Port Authority',
  timeZone: 'Europe/Lisbon',
  name: 'First',
  email: 'First@Port.test',
  password: 'tram lantern mussel quay',
}

describe('the first administrator', () => {
  it('is made once, through the one-time ticket', async () => {
    expect((await fides.call('stranger', 'POST', '/setup', { ...FIRST, ticket: 'invented' })).status).toBe(403)
    const lapsed = (await makeSetupTicket(fides.db))!
    const ticket = (await makeSetupTicket(fides.db))!
    expect((await fides.call('stranger', 'POST', '/setup', { ...FIRST, ticket: lapsed })).status).toBe(403)
    const refused = await fides.call('stranger', 'POST', '/setup', {
      ...FIRST,
      ticket,
      password: 'short',
      timeZone: 'Port/Ansel',
    })
    expect(refused.body.errors.map((fault: { pointer: string }) => fault.pointer)).toEqual(['/timeZone', '/password'])
    const made = await fides.call('stranger', 'POST', '/setup', { ...FIRST, ticket })
    expect(made.status).toBe(201)
    expect(made.body.member).toMatchObject({ email: 'first@port.test', role: 'administrator' })
    expect(
      (await fides.call('stranger', 'POST', '/setup', { ...FIRST, email: 'second@port.test', ticket })).status,
    ).toBe(403)
    expect(await makeSetupTicket(fides.db)).toBeUndefined()
    expect(
      (
        await fides.call('stranger', 'POST', '/session', {
          email: 'first@port.test',
          password: 'tram lantern mussel quay',
        })
      ).status,
    ).toBe(200)
  })
  it('never has the demo’s password', async () => {
    expect(
      (
        await fides.call('stranger', 'POST', '/session', {
          email: 'admin@portansel.example',
          password: 'port-ansel-demo',
        })
      ).status,
    ).toBe(401)
  })
})

describe('health', () => {
  it('tells of each process and the database', async () => {
    expect((await fides.call('stranger', 'GET', '/health')).body).toEqual({ status: 'ok' })
    const signedIn = await fides.call('stranger', 'POST', '/session', {
      email: 'first@port.test',
      password: FIRST.password,
    })
    const cookie = signedIn.headers.get('set-cookie')!.split(';')[0]!
    expect((await fides.call('stranger', 'GET', '/health', undefined, { cookie })).body).toMatchObject({
      status: 'ok',
      stale: [],
      database: { status: 'ok' },
      processes: {
        admin: { status: 'ok' },
        gateway: { status: 'ok', processes: 1 },
        worker: { status: 'ok' },
        shipper: { status: 'ok' },
      },
    })
  })
})

describe('migrations', () => {
  it('run once, and refuse a database that one was cut short on', async () => {
    expect(await migrate(fides.db.sequelize)).toEqual([])
    await fides.db.sequelize.query("INSERT INTO migration_under_way (name) VALUES ('0001-first-tables')")
    await expect(migrate(fides.db.sequelize)).rejects.toThrow(/half migrated: 0001-first-tables was cut short/)
    await fides.db.sequelize.query('DELETE FROM migration_under_way')
  })
})

describe('an address of IPv6', () => {
  it.runIf(hasIpv6)('is where desk and gateway answer', async () => {
    expect(fides.system.adminAddress).toMatch(/^http:\/\/\[::1\]:\d+$/)
    // No domain is here yet: whatever is asked for is asked of the wrong server (RFC 9110 §15.5.20).
    expect((await fides.visit('nowhere.example/x')).status).toBe(421)
  })
})

describe('jobs', () => {
  it('are run by one of many workers, and again only when due', async () => {
    let runs = 0
    const jobs = [{ kind: 'counted', everySeconds: 3600, run: async () => void runs++ }]
    await registerJobs(fides.db, jobs)
    await Promise.all(Array.from({ length: 6 }, (_, index) => runDueJob(fides.db, jobs, `worker-${index}`)))
    expect(runs).toBe(1)
  })
  it('are taken up again at once by the worker that lost the database, not by another', async () => {
    let runs = 0
    const jobs = [{ kind: 'left-over', everySeconds: 3600, run: async () => void runs++ }]
    await registerJobs(fides.db, jobs)
    await fides.db.sequelize.query(
      "UPDATE job SET leased_until = DATE_ADD(UTC_TIMESTAMP(3), INTERVAL 1 HOUR), leased_by = 'mine' WHERE " +
        "kind = 'left-over'",
    )
    await runDueJob(fides.db, jobs, 'another')
    expect(runs).toBe(0)
    await runDueJob(fides.db, jobs, 'mine')
    expect(runs).toBe(1)
  })
  it('say what went wrong, and are due again', async () => {
    const jobs = [{ kind: 'failing', everySeconds: 0, run: () => Promise.reject(new Error('no luck')) }]
    await registerJobs(fides.db, jobs)
    await runDueJob(fides.db, jobs, 'worker')
    const rows = await fides.db.sequelize.query<{ last_error: string; leased_by: string | null }>(
      "SELECT last_error, leased_by FROM job WHERE kind = 'failing'",
      { type: QueryTypes.SELECT },
    )
    expect(rows[0]).toEqual({ last_error: 'no luck', leased_by: null })
  })
  it('bring figures of the last 28 days up to date', async () => {
    await fides.db.Domain.create({
      host: 'figures.example',
      standing: 'open',
      createdAt: new Date(),
      updatedAt: new Date(),
    })
    const row = {
      domainId: 1,
      destination: 'https://x.example/',
      destinationHash: '',
      status: 302 as const,
      query: 'discard' as const,
      queryConflict: 'destination' as const,
      title: '',
      note: '',
      owner: '',
      standing: 'live' as const,
      startsAt: null,
      endsAt: null,
      resumesAt: null,
      endedDestination: null,
      robots: null,
      referrerPolicy: null,
      searchText: '',
      createdAt: new Date(),
      updatedAt: new Date(),
    }
    const link = await fides.db.Link.create({ ...row, slug: 'f', canonical: 'f' })
    const day = (ago: number) => new Date(Date.now() - ago * 86_400_000).toISOString().slice(0, 10)
    for (const ago of [1, 27, 29])
      await fides.db.sequelize.query('INSERT INTO visit_day (link_id, day, visits) VALUES (?, ?, 10)', {
        replacements: [link.id, day(ago)],
      })
    expect(await refreshVisitFigures(fides.db)).toBe(1)
    await link.reload()
    expect(link.visits28).toBe(20)
  })
})
