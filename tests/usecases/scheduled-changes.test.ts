import { DateTime } from 'luxon'
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it, vi } from 'vitest'
import { caseListQuery } from '../../core/schemas'
import { localMoment } from '../../core/time/local-moment'
import { keepHeldChanges } from '../../server/docket/dates/keep-held-changes'
import { makeDueChanges } from '../../server/usecases/changes/due-proposals'
import { makeChange, readProposal, withdrawProposal } from '../../server/usecases/changes/proposals'
import { listCases } from '../../server/usecases/docket/list-cases'
import { giveBackJobs } from '../../server/usecases/jobs/give-back'
import { Partner } from './partner'
import { administrator, TestRegister } from './register'

let register: TestRegister
let partner: Partner
beforeAll(async () => (register = await TestRegister.start()))
afterAll(() => register.stop())
beforeEach(async () => (partner = await Partner.make(register)))

describe('a change set for a moment', () => {
  const soon = (ms: number) => new Date(Date.now() + ms).toISOString()

  it('waits, is made once whoever looks, and counts from its moment', async () => {
    const at = soon(3500)
    const proposal = await partner.proposeMove({ at })
    const waiting = await partner.apply(proposal)
    expect(waiting.state).toBe('waiting')
    const [one, other] = await Promise.all([makeDueChanges(register.db), makeDueChanges(register.db)])
    expect([...one.made, ...other.made]).toEqual([proposal.id])
    const entry = await register.entry('change-destination')
    expect(entry.liveAt?.toISOString()).toBe(at)
    expect((await partner.link(0)).version).toBe(2)
  })

  it('is not made before', async () => {
    const proposal = await partner.proposeMove({ at: soon(600_000) })
    await partner.apply(proposal)
    expect(await makeDueChanges(register.db)).toEqual({ made: [], held: [] })
  })

  it('is made late where nobody was there at its moment', async () => {
    const proposal = await partner.proposeMove({ at: soon(600_000) })
    await partner.apply(proposal)
    await register.db.Proposal.update({ at: new Date(Date.now() - 60_000) }, { where: { id: proposal.id } })
    expect((await makeDueChanges(register.db)).made).toEqual([proposal.id])
    expect((await partner.destinations())[0]).toContain(`new${partner.number}`)
  })

  it('is held where a link changed meanwhile, says so, and can be made after all', async () => {
    const proposal = await partner.proposeMove({ at: soon(2000) })
    await partner.apply(proposal)
    await register.changeLink(partner.links[2]!, { title: 'Meanwhile' })
    expect(await makeDueChanges(register.db)).toEqual({ made: [], held: [proposal.id] })
    const held = await readProposal(register.db, proposal.id)
    expect(held).toMatchObject({ state: 'held', problem: expect.stringContaining(`c${partner.number} was changed`) })
    expect(await partner.destinations()).toEqual(partner.links.map(({ destination }) => destination))
    // It is on the docket until somebody does something about it.
    const open = () => listCases(register.db, caseListQuery.parse({ lane: 'dates' }))
    await keepHeldChanges(register.db)
    const [told] = (await open()).items
    expect(told).toMatchObject({ kind: 'change-held', headline: 'Scheduled change to 3 links is on hold' })
    expect(told!.sentence).toContain(`c${partner.number} was changed`)
    await withdrawProposal(register.db, administrator, proposal.id)
    await keepHeldChanges(register.db)
    expect((await open()).items).toEqual([])
  })

  it('goes over what changed meanwhile where that was wished', async () => {
    const proposal = await partner.propose({
      select: { host: partner.host },
      change: partner.move,
      at: soon(2000),
      stops: { changed: false, broken: true },
    })
    await partner.apply(proposal)
    await register.changeLink(partner.links[2]!, { title: 'Meanwhile' })
    expect((await makeDueChanges(register.db)).made).toEqual([proposal.id])
    expect(await partner.link(2)).toMatchObject({ title: 'Meanwhile' })
    expect((await partner.destinations())[2]).toContain(`new${partner.number}`)
  })

  it('is held where a new destination does not answer, unless that is let pass', async () => {
    const broken = async (stops: object) => {
      const proposal = await partner.propose({
        select: { links: [partner.links[0]!.id] },
        change: partner.move,
        at: soon(2000),
        stops,
      })
      await partner.apply(proposal)
      await register.db.Target.update(
        { confidence: 'broken', sentence: 'It does not answer.' },
        { where: { destination: `https://${partner.newHost}/a?x=1#f` } },
      )
      return { proposal, told: await makeDueChanges(register.db) }
    }
    const first = await broken({ changed: true, broken: true })
    expect(first.told.held).toEqual([first.proposal.id])
    const failed = await readProposal(register.db, first.proposal.id)
    expect(failed.counts.checkFailed).toBe(1)
    expect((await partner.rows(failed, { kind: 'check-failed' }))[0]!.check).toEqual({
      confidence: 'broken',
      sentence: 'It does not answer.',
    })
    const second = await broken({ changed: true, broken: false })
    expect(second.told.made).toEqual([second.proposal.id])
  })

  it('is held where who set it is no administrator any more', async () => {
    const member = await register.db.Member.create({
      email: `m${partner.number}@portansel.example`,
      name: 'Ada',
      role: 'administrator',
      createdAt: new Date(),
    } as never)
    const proposal = await partner.proposeMove({ at: soon(2000) })
    await makeChange(
      register.db,
      { memberId: member.id, name: 'Ada', role: 'administrator' },
      proposal.id,
      proposal.version,
    )
    await member.update({ role: 'viewer' })
    expect((await makeDueChanges(register.db)).held).toEqual([proposal.id])
  })

  it('whose maker was ended in the middle stands as before', async () => {
    const proposal = await partner.proposeMove()
    await register.db.Proposal.update(
      { state: 'applying', leasedUntil: new Date(Date.now() - 120_000), resumeState: 'ready', resumeProblem: '' },
      { where: { id: proposal.id } },
    )
    expect(await giveBackJobs(register.db)).toBe(1)
    const now = await readProposal(register.db, proposal.id)
    expect(now.state).toBe('ready')
    expect((await partner.apply(now)).state).toBe('applied')
  })
})

// Beirut puts its clocks forward at midnight: 28 March 2027 begins at 01:00, 27 March 22:00 UTC. Havana puts them back
// at 01:00 of 7 November 2027, to midnight, which is there twice: the first one is meant (RFC 5545 §3.3.5; IANA time
// zone data).
describe('a change set for midnight where the clocks change', () => {
  afterEach(() => void vi.useRealTimers())
  it.each([
    ['Asia/Beirut', '2027-03-28T00:00', '2027-03-27T22:00:00.000Z'],
    ['America/Havana', '2027-11-07T00:00', '2027-11-07T04:00:00.000Z'],
    ['Europe/Lisbon', '2027-10-31T00:00', '2027-10-30T23:00:00.000Z'],
  ])('in %s is made once, at that moment, with two workers and a restart', async (zone, local, moment) => {
    expect(localMoment(local, zone)).toBe(moment)
    const set = DateTime.fromISO(moment, { zone: 'utc' })
    vi.useFakeTimers({ toFake: ['Date'], now: set.minus({ hours: 3 }).toMillis() })
    const proposal = await partner.proposeMove({ at: set.toISO()! })
    await partner.apply(proposal)
    const made: { at: string; id: number }[] = []
    for (let minutes = -150; minutes <= 150; minutes += 10) {
      vi.setSystemTime(set.plus({ minutes }).toMillis() - 2000)
      // For a while nobody is there, as in a restart; then two workers look at once.
      if (minutes > -60 && minutes < -10) continue
      const told = await Promise.all([makeDueChanges(register.db), makeDueChanges(register.db)])
      for (const id of told.flatMap((one) => one.made))
        if (id === proposal.id) made.push({ at: new Date().toISOString(), id })
    }
    expect(made).toEqual([{ id: proposal.id, at: new Date(set.toMillis() - 2000).toISOString() }])
    const entry = await register.db.LedgerEntry.findByPk((await readProposal(register.db, proposal.id)).entry!)
    expect(entry!.liveAt!.toISOString()).toBe(moment)
  })
})
