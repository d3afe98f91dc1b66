import { QueryTypes } from 'sequelize'
import { afterAll, beforeAll, beforeEach, describe, expect, it, vi } from 'vitest'
import { Survey } from '../../core/conflicts'
import { columnOf, LINK_FIELDS } from '../../core/rows'
import { proposalCreate, type Proposal } from '../../core/schemas'
import { makeDueChanges } from '../../server/usecases/changes/due-proposals'
import {
  changeProposal,
  makeChange,
  makeProposal,
  readProposal,
  withdrawProposal,
} from '../../server/usecases/changes/proposals'
import { conflictsOf } from '../../server/usecases/conflicts/conflict-gate'
import { readChanged, refreshStaleOnWay } from '../../server/usecases/conflicts/read-survey'
import { readIntake, withdrawIntake } from '../../server/usecases/exchange/intakes'
import { giveBackJobs } from '../../server/usecases/jobs/give-back'
import { undo } from '../../server/usecases/ledger/undo'
import { destinationHash } from '../../server/usecases/links/link-state'
import { surveyDomain, surveyLink } from '../unit/conflicts/rows'
import { bringing } from './bringing'
import { Partner } from './partner'
import { administrator, NO_NAMES, TestRegister } from './register'

// What two people, a worker and a kill do in an order nobody planned: each case was seen to go wrong before.
const LINKS = 1500
let register: TestRegister
let partner: Partner
let crowds = 0
beforeAll(async () => (register = await TestRegister.start()))
afterAll(() => register.stop())
beforeEach(async () => (partner = await Partner.make(register)))

const soon = (ms: number) => new Date(Date.now() + ms).toISOString()
const stateOf = async (proposal: Proposal) => (await readProposal(register.db, proposal.id)).state

/** A proposal that moves many links, scheduled; its time has come once `due` is called. */
async function crowd(
  stops: object,
): Promise<{ proposal: Proposal; due(): Promise<unknown>; moved(): Promise<number> }> {
  const [from, to] = [`many${++crowds}.example`, `moved${crowds}.example`]
  const createdAt = new Date()
  await register.db.Link.bulkCreate(
    Array.from({ length: LINKS }, (_, index) => ({
      domainId: 1,
      slug: `many/${crowds}/${index}`,
      canonical: `many/${crowds}/${index}`,
      destination: `https://${from}/${index}`,
      destinationHash: destinationHash(`https://${from}/${index}`),
      status: 302 as const,
      searchText: '',
      createdAt,
      updatedAt: createdAt,
    })),
  )
  const proposal = await partner.propose({
    select: { host: from },
    change: { steps: [{ do: 'move-host', from, to }] },
    stops,
    at: soon(60_000),
  })
  await partner.apply(proposal)
  return {
    proposal,
    due: () => register.db.Proposal.update({ at: new Date(Date.now() + 3000) }, { where: { id: proposal.id } }),
    moved: () => register.db.Link.count({ where: { destination: `https://${to}/7` } }),
  }
}

/** Waits until a proposal is in a state while others go on. */
async function until(proposal: Proposal, state: string): Promise<void> {
  await vi.waitFor(
    async () =>
      expect((await register.db.Proposal.findByPk(proposal.id, { attributes: ['state'] }))!.state).toBe(state),
    { interval: 3, timeout: 20_000 },
  )
}

describe('a scheduled change', () => {
  it('that is withdrawn while the worker calculates it again is not applied', async () => {
    const { proposal, due, moved } = await crowd({ changed: false, broken: false })
    await due()
    const working = makeDueChanges(register.db)
    await until(proposal, 'computing')
    await withdrawProposal(register.db, administrator, proposal.id)
    expect((await working).made).toEqual([])
    expect(await stateOf(proposal)).toBe('withdrawn')
    expect(await moved()).toBe(0)
  })

  it('that is rescheduled while the worker applies another is not applied at its old time', async () => {
    const { proposal, due } = await crowd({ changed: true, broken: false })
    const other = await partner.proposeMove({ at: soon(60_000), stops: { changed: true, broken: false } })
    await partner.apply(other)
    await due()
    await register.db.Proposal.update({ at: new Date(Date.now() + 3500) }, { where: { id: other.id } })
    const working = makeDueChanges(register.db)
    await until(proposal, 'applying')
    const { version } = await readProposal(register.db, other.id)
    await changeProposal(register.db, other.id, version, { at: soon(7 * 86_400_000) })
    expect((await working).made).toEqual([proposal.id])
    expect(await stateOf(other)).toBe('waiting')
    expect((await partner.destinations())[0]).toContain(partner.host)
  })

  it('whose calculation was killed is applied by the next worker', async () => {
    const proposal = await partner.proposeMove({ at: soon(60_000), stops: { changed: false, broken: false } })
    await partner.apply(proposal)
    const lapsed = { leasedUntil: new Date(Date.now() - 1000), resumeState: 'waiting', resumeProblem: '' }
    await register.db.Proposal.update(
      { state: 'computing', at: new Date(Date.now() + 2000), ...lapsed },
      { where: { id: proposal.id } },
    )
    expect((await makeDueChanges(register.db)).made).toEqual([])
    expect(await giveBackJobs(register.db)).toBe(1)
    expect((await makeDueChanges(register.db)).made).toEqual([proposal.id])
  })

  it('that fails unexpectedly stops no other', async () => {
    const broken = await partner.proposeMove({ at: soon(60_000), stops: { changed: false, broken: false } })
    await partner.apply(broken)
    const sound = await (await Partner.make(register)).proposeMove({ at: soon(60_000) })
    await partner.apply(sound)
    const at = new Date(Date.now() + 1000)
    // What no code expects: a selection that an earlier release wrote otherwise.
    await register.db.sequelize.query("UPDATE proposal SET selection = 'null', at = ? WHERE id = ?", {
      replacements: [at, broken.id],
    })
    await register.db.Proposal.update({ at: new Date(Date.now() + 2000) }, { where: { id: sound.id } })
    expect((await makeDueChanges(register.db)).made).toEqual([sound.id])
    expect(await stateOf(broken)).toBe('waiting')
    // After a while it is put on hold, where somebody sees it.
    await register.db.Proposal.update({ at: new Date(Date.now() - 120_000) }, { where: { id: broken.id } })
    expect((await makeDueChanges(register.db)).held).toEqual([broken.id])
  })
})

describe('proposals and files', () => {
  it('of one person are not calculated in greater number than allowed, however many are created together', async () => {
    const input = proposalCreate.parse({ select: { host: partner.host }, change: partner.move, reason: 'for a test' })
    const answers = await Promise.allSettled(
      Array.from({ length: 12 }, () => makeProposal(register.db, administrator, input)),
    )
    const refused = answers.filter(({ status }) => status === 'rejected')
    expect(refused.length).toBeGreaterThanOrEqual(12 - 3 - 3)
    for (const { reason } of refused as PromiseRejectedResult[]) expect(reason.status).toBe(429)
  })

  it('a file that is withdrawn while it is read stays withdrawn', async () => {
    const { begin, bring } = bringing(() => register)
    const lines = Array.from({ length: 4000 }, (_, index) => `/w/${index} https://w${index}.example/ 302`)
    const intake = await begin('withdrawn.txt', lines.join('\n'))
    await withdrawIntake(register.db, administrator, intake.id)
    // However long its thread went on.
    await vi.waitFor(async () => expect((await readIntake(register.db, intake.id)).state).toBe('withdrawn'))
    const rows = () =>
      register.db.sequelize.query('SELECT COUNT(*) AS n FROM intake_row WHERE intake_id = ?', {
        replacements: [intake.id],
        type: QueryTypes.SELECT,
      })
    const before = await rows()
    // Another file after it has been read whole: the first one's thread had time to do its worst.
    await bring('after.txt', lines.join('\n').replaceAll('/w/', '/after/'))
    expect((await readIntake(register.db, intake.id)).state).toBe('withdrawn')
    expect(await rows()).toEqual(before)
  })

  it('a file whose desk was killed is given back without anybody opening it', async () => {
    const at = { memberId: null, actor: 'a test', role: 'administrator' as const, name: 'x.txt', options: {} as never }
    const lapsed = { leasedUntil: new Date(Date.now() - 1000), resumeProblem: 'interrupted', madeAt: new Date() }
    const { db } = register
    const reading = await db.Intake.create({
      ...at,
      ...lapsed,
      state: 'reading',
      resumeState: 'failed',
      resumeEnded: true,
    })
    const applying = await db.Intake.create({ ...at, ...lapsed, state: 'applying', resumeState: 'ready' })
    expect(await giveBackJobs(db)).toBe(2)
    expect(await reading.reload()).toMatchObject({ state: 'failed', problem: 'interrupted' })
    expect(reading.endedAt).not.toBeNull()
    expect((await applying.reload()).state).toBe('ready')
  })
})

describe('undoing a creation', () => {
  it('retires a link that a change to many postponed after it had been live', async () => {
    const { db } = register
    const link = await register.link(`printed-${partner.number}`, 'https://www.example/season')
    const made = await register.entry('create')
    const proposal = await partner.propose({
      select: { links: [link.id] },
      change: { set: { startsAt: soon(30 * 86_400_000) } },
    })
    await partner.apply(proposal)
    await undo(db, NO_NAMES, administrator, made.id, { overwrite: true })
    expect((await db.Link.findByPk(link.id))?.standing).toBe('retired')
  })

  it('retires a link with visits, although it has not begun again', async () => {
    const { db } = register
    const link = await register.link(`seen-${partner.number}`, 'https://www.example/', { startsAt: soon(86_400_000) })
    const made = await register.entry('create')
    await db.sequelize.query('INSERT INTO visit_day (link_id, day, visits) VALUES (?, UTC_DATE(), 1)', {
      replacements: [link.id],
    })
    await undo(db, NO_NAMES, administrator, made.id, { overwrite: true })
    expect((await db.Link.findByPk(link.id))?.standing).toBe('retired')
  })

  it('deletes one that nobody can have requested', async () => {
    const link = await register.link(`never-${partner.number}`, 'https://www.example/', { startsAt: soon(86_400_000) })
    await undo(register.db, NO_NAMES, administrator, (await register.entry('create')).id, { overwrite: false })
    expect(await register.db.Link.findByPk(link.id)).toBeNull()
  })
})

describe('the conflict index', () => {
  const domain = surveyDomain()
  const poster = (destination: string) => surveyLink({ id: 1, domainId: domain.id, slug: 'poster', destination })
  const loop = poster(`https://${domain.host}/poster`)
  const raw = Object.fromEntries(
    Object.entries(loop).map(([name, value]) => [columnOf(LINK_FIELDS, name as keyof typeof LINK_FIELDS), value]),
  )
  /** What the edit's own transaction reads: its own row, which is not committed. */
  const db = {
    sequelize: { query: () => Promise.resolve([raw]) },
    Rule: { findAll: () => Promise.resolve([]) },
    Domain: { findAll: () => Promise.resolve([]) },
  } as never

  it.each([false, true])('does not take a change’s own rows in (behind with them: %s)', async (isBehind) => {
    const survey = new Survey()
    survey.load([domain], [poster('https://elsewhere.example/')], [], Date.now())
    survey.scanAll()
    if (isBehind) survey.behind.set(1, 5)
    const change = await readChanged(db, { links: [1], domains: [], rules: [] })
    await refreshStaleOnWay(db, survey, change.links ?? [], new Set([1]))
    expect(conflictsOf(survey, change).map(({ conflict }) => conflict.kind)).toEqual(['loop'])
    expect(survey.state.links.get(1)!.destination).toBe('https://elsewhere.example/')
  })

  it('is as before where describing what was found fails', () => {
    const survey = new Survey()
    survey.load([domain], [poster('https://elsewhere.example/')], [], Date.now())
    survey.scanAll()
    const { state } = survey
    const [putRows, get] = [state.putRows.bind(state), state.domains.get.bind(state.domains)]
    let puts = 0
    // Rows are put in, put into words, and taken out again: the second of these fails.
    state.putRows = (change) => {
      state.domains.get = get
      const inverse = putRows(change)
      if (++puts === 1)
        state.domains.get = () => {
          throw new Error('a fault')
        }
      return inverse
    }
    expect(() => conflictsOf(survey, { links: [loop] })).toThrow('a fault')
    expect(survey.state.links.get(1)!.destination).toBe('https://elsewhere.example/')
  })
})

describe('a proposal that is read while it changes', () => {
  it('is applied once by two who apply it together', async () => {
    const proposal = await partner.proposeMove()
    const answers = await Promise.allSettled(
      [0, 1, 2, 3].map(() => makeChange(register.db, administrator, proposal.id, proposal.version)),
    )
    expect(answers.filter(({ status }) => status === 'fulfilled')).toHaveLength(1)
    expect((await partner.link(0)).version).toBe(2)
  })
})
