import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { settingsPatch, type Link } from '../../core/schemas'
import { judge, type Evidence } from '../../core/targets'
import type { TargetModel } from '../../server/database/models/target'
import { Busy } from '../../server/targets/asker'
import { undo } from '../../server/usecases/ledger/undo'
import { askForChecks, cancelRun, readRun } from '../../server/usecases/targets/check-runs'
import { changeSettings, readSettings } from '../../server/usecases/targets/check-settings'
import { storeCheck } from '../../server/usecases/targets/check-target'
import { claimTargets } from '../../server/usecases/targets/claim-targets'
import { ensureTargets } from '../../server/usecases/targets/link-targets'
import { sharedTurns } from '../../server/usecases/targets/shared-turns'
import { administrator, editor, NO_NAMES, refusal, TestRegister } from './register'

let register: TestRegister
let number = 0
beforeAll(async () => (register = await TestRegister.start()))
afterAll(() => register.stop())

const database = () => register.db
const link = (destination: string): Promise<Link> => register.link(`t${++number}`, destination)
/** A check that arrived, begun at a moment. */
const reached = (url: string, at: number): Evidence => ({
  destination: url,
  at,
  hops: [
    {
      url,
      method: 'GET',
      via: 'status',
      address: '192.0.2.1',
      status: 200,
      location: null,
      milliseconds: 1,
      certificate: null,
      fields: null,
      fault: null,
    },
  ],
  page: null,
  sibling: null,
  endless: null,
})
const targetOf = async (made: Link): Promise<TargetModel> => {
  const { destinationHash } = (await database().Link.findByPk(made.id))!
  return (await database().Target.findOne({ where: { hash: destinationHash } }))!
}

describe('workers', () => {
  it('claim each target once, no host more often than it may be', async () => {
    for (let index = 0; index < 12; index++) await link(`http://host-${index % 3}.example/${index}`)
    await ensureTargets(database(), null)
    await database().Target.update({ dueAt: new Date(Date.now() - 1000), leasedUntil: null }, { where: {} })
    const claims = await Promise.all(
      ['one', 'two', 'three'].map((worker) =>
        claimTargets(database(), { worker, most: 50, perHost: 2, busy: new Map([['host-2.example', 2]]) }),
      ),
    )
    const all = claims.flat()
    expect(new Set(all.map(({ id }) => id)).size).toBe(all.length)
    expect(all.filter(({ host }) => host === 'host-2.example')).toEqual([])
    for (const claim of claims)
      for (const host of ['host-0.example', 'host-1.example'])
        expect(claim.filter((target) => target.host === host).length).toBeLessThanOrEqual(2)
  })

  it('share the politeness: two at once and one after the other, whoever asks', async () => {
    const turns = [1, 2, 3].map(() => sharedTurns(database(), { checkPerHost: 2, checkPerSecond: 20 }))
    const times: number[] = []
    let under = 0
    let most = 0
    await Promise.all(
      Array.from({ length: 9 }, async (_, index) => {
        const turn = await turns[index % 3]!.take('polite.example')
        times.push(performance.now())
        most = Math.max(most, ++under)
        await new Promise((resolve) => setTimeout(resolve, 30))
        under--
        turn.done()
      }),
    )
    expect(most).toBeLessThanOrEqual(2)
    times.sort((a, b) => a - b)
    // The database’s clock gives the turns; what is waited for it only makes gaps longer.
    expect(times.at(-1)! - times[0]!).toBeGreaterThan(8 * 50 - 60)
  })

  it('leave a host alone that asked for it', async () => {
    const turns = sharedTurns(database(), { checkPerHost: 2, checkPerSecond: 50 })
    const turn = await turns.take('waits.example')
    turn.done(3_600_000)
    await expect
      .poll(() =>
        turns.take('waits.example').then(
          () => 'taken',
          (error: Error) => (error instanceof Busy ? error.waitMs : 'wrong'),
        ),
      )
      .toBeGreaterThan(3_500_000)
  })
})

describe('checks that were asked for', () => {
  it('count what they asked for once, and can be stopped', async () => {
    const one = await link('http://www.site.example/a?run')
    const same = await link('http://www.site.example/a?run')
    const run = await askForChecks(database(), editor, { links: [one.id, same.id] })
    expect(run).toMatchObject({ total: 1, done: 0, state: 'running' })
    expect(await targetOf(one)).toMatchObject({ urgent: true })
    // As checkTarget leaves it.
    const target = await targetOf(one)
    await target.update({ confidence: 'sound', verdict: 'sound' })
    await database().sequelize.query('UPDATE check_run_target SET done = TRUE WHERE run_id = ?', {
      replacements: [run.id],
    })
    expect(await readRun(database(), run.id)).toMatchObject({ done: 1, state: 'done', counts: { sound: 1 } })
    const other = await askForChecks(database(), editor, { all: true })
    await cancelRun(database(), other.id)
    expect(await readRun(database(), other.id)).toMatchObject({ state: 'cancelled' })
  })
  it('wait for a check that began after they were asked for', async () => {
    const made = await link('http://www.site.example/a?under-way')
    const run = await askForChecks(database(), editor, { links: [made.id] })
    const asked = (await database().CheckRun.findByPk(run.id))!.askedAt
    /** One check of the target, begun so many milliseconds after the run was asked for. */
    const check = async (after: number) => {
      const target = await targetOf(made)
      await target.update({ leasedBy: 'one', leasedUntil: new Date(Date.now() + 60_000) })
      const evidence = reached('http://www.site.example/a?under-way', asked.getTime() + after)
      await storeCheck(database(), await readSettings(database()), target, {
        evidence,
        judged: judge(evidence),
        headWorks: null,
        interest: { links: [], visitsADay: 0, newest: Date.now() },
        waitMs: undefined,
      })
    }
    // It was under way when somebody asked: what it saw may be from before.
    await check(-500)
    expect(await readRun(database(), run.id)).toMatchObject({ done: 0, state: 'running' })
    const between = await targetOf(made)
    expect(between).toMatchObject({ urgent: true, leasedBy: null })
    expect(between.dueAt.getTime()).toBeLessThanOrEqual(Date.now() + 1000)
    await check(1)
    expect(await readRun(database(), run.id)).toMatchObject({ done: 1, state: 'done', counts: { sound: 1 } })
    expect(await targetOf(made)).toMatchObject({ urgent: false })
  })
  it('refuse a link that is not there, by its field', async () =>
    expect(await refusal(askForChecks(database(), editor, { links: [999_999] }))).toMatchObject({ status: 422 }))
})

describe('settings', () => {
  it('change under a version, in the ledger, and are undone', async () => {
    const before = await readSettings(database())
    const after = await changeSettings(
      database(),
      administrator,
      before.version,
      settingsPatch.parse({ brokenAfter: 5, checkNetworks: ['10.20.0.0/16'] }),
    )
    expect(after).toMatchObject({ brokenAfter: 5, checkNetworks: ['10.20.0.0/16'], version: before.version + 1 })
    expect(await refusal(changeSettings(database(), administrator, before.version, { brokenAfter: 4 }))).toMatchObject({
      status: 412,
    })
    const entry = await register.entry('change')
    await undo(database(), NO_NAMES, administrator, entry.id, { overwrite: false })
    expect(await readSettings(database())).toMatchObject({ brokenAfter: before.brokenAfter, checkNetworks: [] })
  })
  it.each([
    { checkNetworks: ['10.0.0.0/33'] },
    { checkNetworks: ['all'] },
    { checkPerHost: 0 },
    { checkPerSecond: 1000 },
    { checkContact: 'nobody' },
    { checkContact: 'a@b.example\r\nX: y' },
    { brokenAfter: 1.5 },
    { brokenOverMinutes: -1 },
    { anything: 1 },
  ])('refuse %o', (patch) => expect(settingsPatch.safeParse(patch).success).toBe(false))
  it('refuse a network that only looks like one', async () => {
    const { version } = await readSettings(database())
    const problem = await refusal(
      changeSettings(database(), administrator, version, { checkNetworks: ['999.1.1.1/8'] }),
    )
    expect(problem).toMatchObject({ status: 422 })
  })
})
