import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest'
import { proposalCreate, proposalRowsQuery, type Link, type Proposal } from '../../core/schemas'
import { makeDueChanges } from '../../server/usecases/changes/due-proposals'
import { linkHolders } from '../../server/usecases/changes/holders'
import { listProposalRows, patchProposalRows } from '../../server/usecases/changes/proposal-view'
import {
  changeProposal,
  computeAgain,
  makeChange,
  makeProposal,
  readProposal,
  withdrawProposal,
} from '../../server/usecases/changes/proposals'
import { listLedger } from '../../server/usecases/ledger/list-ledger'
import { lookUpPast } from '../../server/usecases/ledger/look-up-past'
import { undo } from '../../server/usecases/ledger/undo'
import { readLink } from '../../server/usecases/links/read-link'
import { administrator, editor, NO_NAMES, refusal, TestRegister } from './register'

let register: TestRegister
let links: Link[]
let round = 0

beforeAll(async () => (register = await TestRegister.start()))
afterAll(() => register.stop())
beforeEach(async () => {
  round++
  links = []
  for (const name of ['a', 'b', 'c'])
    links.push(
      await register.link(`${name}${round}`, `https://old${round}.example/${name}?x=1#f`, { tags: ['partner'] }),
    )
})

const host = () => `old${round}.example`
const moveHost = () => ({ steps: [{ do: 'move-host', from: host(), to: `new${round}.example` }] })

async function ready(proposal: Proposal): Promise<Proposal> {
  for (let tries = 0; tries < 600; tries++) {
    const now = await readProposal(register.db, proposal.id)
    if (now.state !== 'computing') return now
    await new Promise((resolve) => setTimeout(resolve, 10))
  }
  throw new Error('the proposal was never worked out')
}
const propose = async (input: object, actor = administrator) =>
  ready(await makeProposal(register.db, actor, proposalCreate.parse({ reason: 'for a test', ...input })))
const rows = async (proposal: Proposal, query: object = {}) =>
  (await listProposalRows(register.db, proposal.id, proposalRowsQuery.parse(query))).items
const apply = (proposal: Proposal) => makeChange(register.db, administrator, proposal.id, proposal.version)
const destinations = () => Promise.all(links.map(async ({ id }) => (await readLink(register.db, id)).destination))

describe('a change to many links', () => {
  it('shows each link before and after, and changes nothing until it is applied', async () => {
    const proposal = await propose({ select: { host: host() }, change: moveHost() })
    expect(proposal).toMatchObject({
      state: 'ready',
      total: 3,
      counts: { change: 3, clash: 0, unchanged: 0, refused: 0 },
    })
    expect(proposal.words).toBe(`moves ${host()} to new${round}.example`)
    const told = await rows(proposal)
    expect(told.map(({ address, before, after }) => [address, before, after])).toContainEqual([
      `ansl.example/a${round}`,
      { destination: `https://${host()}/a?x=1#f` },
      { destination: `https://new${round}.example/a?x=1#f` },
    ])
    expect(await destinations()).toEqual(links.map(({ destination }) => destination))
  })

  it('is written as one entry, told in each link’s history, and undone as one', async () => {
    const proposal = await propose({ select: { host: host() }, change: moveHost() })
    const applied = await apply(proposal)
    expect(applied.state).toBe('applied')
    expect(await destinations()).toEqual(['a', 'b', 'c'].map((name) => `https://new${round}.example/${name}?x=1#f`))
    const entry = await register.entry('change-destination')
    expect(entry.id).toBe(applied.entry)
    const { items } = await listLedger(register.db, administrator, { limit: 5 } as never, links[1]!.id)
    expect(items[0]).toMatchObject({
      id: entry.id,
      before: { destination: `https://${host()}/b?x=1#f` },
      after: { destination: `https://new${round}.example/b?x=1#f` },
    })
    const back = await undo(register.db, NO_NAMES, administrator, entry.id, { overwrite: false })
    expect(await destinations()).toEqual(links.map(({ destination }) => destination))
    expect((await refusal(undo(register.db, NO_NAMES, administrator, entry.id, { overwrite: false }))).status).toBe(409)
    // And back again.
    await undo(register.db, NO_NAMES, administrator, back.id, { overwrite: false })
    expect((await destinations())[0]).toBe(`https://new${round}.example/a?x=1#f`)
  })

  it('sets fields and tags together', async () => {
    const proposal = await propose({
      select: { links: links.map(({ id }) => id) },
      change: {
        set: { owner: 'Ben', status: 301, endsAt: '2030-01-01T00:00:00Z' },
        tags: { add: ['moved'], remove: ['partner'] },
      },
    })
    await apply(proposal)
    const now = await readLink(register.db, links[0]!.id)
    expect(now).toMatchObject({
      owner: 'Ben',
      status: 301,
      endsAt: '2030-01-01T00:00:00.000Z',
      tags: ['moved'],
      version: 2,
    })
    const entry = await register.entry('change')
    await undo(register.db, NO_NAMES, administrator, entry.id, { overwrite: false })
    expect(await readLink(register.db, links[0]!.id)).toMatchObject({
      owner: '',
      status: links[0]!.status,
      endsAt: null,
      tags: ['partner'],
    })
  })

  it('refuses all of it where somebody changed one of the links meanwhile, and says which', async () => {
    const proposal = await propose({ select: { host: host() }, change: moveHost() })
    await register.changeLink(links[1]!, { title: 'Changed meanwhile' })
    const refused = await refusal(apply(proposal))
    expect(refused.status).toBe(409)
    expect(refused.message).toContain(`ansl.example/b${round} was changed`)
    expect(await destinations()).toEqual(links.map(({ destination }) => destination))
    const again = await ready(await computeAgain(register.db, proposal.id))
    expect((await apply(again)).state).toBe('applied')
  })

  it('an undoing refuses what changed again since, unless told to overwrite', async () => {
    const applied = await apply(await propose({ select: { host: host() }, change: moveHost() }))
    const now = await readLink(register.db, links[0]!.id)
    await register.changeLink(now, { destination: 'https://third.example/' })
    const refused = await refusal(undo(register.db, NO_NAMES, administrator, applied.entry!, { overwrite: false }))
    expect(refused.title).toBe('Would overwrite a later change')
    expect((await destinations())[1]).toContain(`new${round}.example`)
    await undo(register.db, NO_NAMES, administrator, applied.entry!, { overwrite: true })
    expect(await destinations()).toEqual(links.map(({ destination }) => destination))
  })

  it('leaves out what somebody leaves out', async () => {
    const proposal = await propose({ select: { host: host() }, change: moveHost() })
    const [first] = await rows(proposal)
    const now = await patchProposalRows(register.db, proposal.id, { positions: [first!.position], leftOut: true })
    expect(now.counts).toMatchObject({ change: 2, leftOut: 1 })
    expect((await rows(proposal, { kind: 'left-out' })).map(({ link }) => link)).toEqual([first!.link])
    await apply(now)
    expect((await destinations()).filter((destination) => destination.includes(`new${round}`))).toHaveLength(2)
  })

  it('tells what would lead in a circle, and leaves it as it is', async () => {
    await register.link(`circle${round}`, `https://ansl.example/a${round}`)
    const proposal = await propose({
      select: { links: [links[0]!.id] },
      change: { steps: [{ do: 'set', destination: `https://ansl.example/circle${round}` }] },
    })
    expect(proposal.counts).toMatchObject({ change: 0, clash: 1 })
    expect((await rows(proposal))[0]!.why).toContain('in a circle')
    expect((await refusal(apply(proposal))).title).toBe('Nothing to change')
  })

  it('refuses a circle that somebody closes after it was worked out', async () => {
    const proposal = await propose({
      select: { links: [links[0]!.id] },
      change: { steps: [{ do: 'set', destination: `https://ansl.example/b${round}` }] },
    })
    expect(proposal.counts.change).toBe(1)
    await register.changeLink(links[1]!, { destination: `https://ansl.example/a${round}` })
    const refused = await refusal(apply(proposal))
    expect(refused.title).toBe('Leads in a circle')
    expect((await readProposal(register.db, proposal.id)).state).toBe('ready')
  })

  it('selects by pasted addresses, and tells those that are none of ours', async () => {
    const proposal = await propose({
      select: {
        addresses: [
          `https://ansl.example/A${round}/`,
          `ansl.example/c${round}?x`,
          'ansl.example/none',
          'elsewhere.example/a',
          '',
        ],
      },
      change: moveHost(),
    })
    expect((await rows(proposal)).map(({ link }) => link).sort()).toEqual([links[0]!.id, links[2]!.id].sort())
    expect(proposal.counts.unknown).toEqual(['elsewhere.example/a', 'ansl.example/none'])
  })

  it('is made once, however many ask at once', async () => {
    const proposal = await propose({ select: { host: host() }, change: moveHost() })
    const told = await Promise.allSettled(Array.from({ length: 8 }, () => apply(proposal)))
    expect(told.filter(({ status }) => status === 'fulfilled')).toHaveLength(1)
    expect((await readLink(register.db, links[0]!.id)).version).toBe(2)
  })

  it('is withdrawn by who made it or an administrator, and then cannot be made', async () => {
    const proposal = await propose({ select: { host: host() }, change: moveHost() })
    expect((await refusal(withdrawProposal(register.db, { ...editor, memberId: 99 }, proposal.id))).status).toBe(403)
    await withdrawProposal(register.db, administrator, proposal.id)
    expect((await refusal(apply(proposal))).status).toBe(409)
  })

  it('of another version than was looked at is refused', async () => {
    const proposal = await propose({ select: { host: host() }, change: moveHost() })
    await changeProposal(register.db, proposal.id, proposal.version, { reason: 'another' })
    expect((await refusal(apply(proposal))).status).toBe(412)
  })
})

describe('a change set for a moment', () => {
  const soon = (ms: number) => new Date(Date.now() + ms).toISOString()

  it('waits, is made once whoever looks, and counts from its moment', async () => {
    const at = soon(3500)
    const proposal = await propose({ select: { host: host() }, change: moveHost(), at })
    const waiting = await apply(proposal)
    expect(waiting.state).toBe('waiting')
    const [one, other] = await Promise.all([makeDueChanges(register.db), makeDueChanges(register.db)])
    expect([...one.made, ...other.made]).toEqual([proposal.id])
    const entry = await register.entry('change-destination')
    expect(entry.liveAt?.toISOString()).toBe(at)
    expect((await readLink(register.db, links[0]!.id)).version).toBe(2)
  })

  it('is not made before', async () => {
    const proposal = await propose({ select: { host: host() }, change: moveHost(), at: soon(600_000) })
    await apply(proposal)
    expect(await makeDueChanges(register.db)).toEqual({ made: [], held: [] })
  })

  it('is made late where nobody was there at its moment', async () => {
    const proposal = await propose({ select: { host: host() }, change: moveHost(), at: soon(600_000) })
    await apply(proposal)
    await register.db.Proposal.update({ at: new Date(Date.now() - 60_000) }, { where: { id: proposal.id } })
    expect((await makeDueChanges(register.db)).made).toEqual([proposal.id])
    expect((await destinations())[0]).toContain(`new${round}`)
  })

  it('is held where a link changed meanwhile, says so, and can be made after all', async () => {
    const proposal = await propose({ select: { host: host() }, change: moveHost(), at: soon(2000) })
    await apply(proposal)
    await register.changeLink(links[2]!, { title: 'Meanwhile' })
    expect(await makeDueChanges(register.db)).toEqual({ made: [], held: [proposal.id] })
    const held = await readProposal(register.db, proposal.id)
    expect(held).toMatchObject({ state: 'held', problem: expect.stringContaining(`c${round} was changed`) })
    expect(await destinations()).toEqual(links.map(({ destination }) => destination))
  })

  it('goes over what changed meanwhile where that was wished', async () => {
    const proposal = await propose({
      select: { host: host() },
      change: moveHost(),
      at: soon(2000),
      stops: { changed: false, broken: true },
    })
    await apply(proposal)
    await register.changeLink(links[2]!, { title: 'Meanwhile' })
    expect((await makeDueChanges(register.db)).made).toEqual([proposal.id])
    expect(await readLink(register.db, links[2]!.id)).toMatchObject({ title: 'Meanwhile' })
    expect((await destinations())[2]).toContain(`new${round}`)
  })

  it('is held where a new destination does not answer, unless that is let pass', async () => {
    const broken = async (stops: object) => {
      const proposal = await propose({ select: { links: [links[0]!.id] }, change: moveHost(), at: soon(2000), stops })
      await apply(proposal)
      await register.db.Target.update(
        { confidence: 'broken', sentence: 'It does not answer.' },
        { where: { destination: `https://new${round}.example/a?x=1#f` } },
      )
      return { proposal, told: await makeDueChanges(register.db) }
    }
    const first = await broken({ changed: true, broken: true })
    expect(first.told.held).toEqual([first.proposal.id])
    const failed = await readProposal(register.db, first.proposal.id)
    expect(failed.counts.checkFailed).toBe(1)
    expect((await rows(failed, { kind: 'check-failed' }))[0]!.check).toEqual({
      confidence: 'broken',
      sentence: 'It does not answer.',
    })
    const second = await broken({ changed: true, broken: false })
    expect(second.told.made).toEqual([second.proposal.id])
  })

  it('is held where who set it is no administrator any more', async () => {
    const member = await register.db.Member.create({
      email: `m${round}@portansel.example`,
      name: 'Ada',
      role: 'administrator',
      createdAt: new Date(),
    } as never)
    const proposal = await propose({ select: { host: host() }, change: moveHost(), at: soon(2000) })
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
    const proposal = await propose({ select: { host: host() }, change: moveHost() })
    await register.db.Proposal.update(
      { state: 'applying', seenAt: new Date(Date.now() - 120_000) },
      { where: { id: proposal.id } },
    )
    await makeDueChanges(register.db)
    const now = await readProposal(register.db, proposal.id)
    expect(now.state).toBe('ready')
    expect((await apply(now)).state).toBe('applied')
  })
})

describe('the past', () => {
  it('tells what an address led to at a moment, and who decided that', async () => {
    const [link] = links
    const past = (at: Date) =>
      lookUpPast(register.db, { address: `ansl.example/a${round}`, at: at.toISOString(), acceptLanguage: '' })
    const before = new Date()
    await new Promise((resolve) => setTimeout(resolve, 5))
    const now = await register.changeLink(link!, { destination: 'https://second.example/' }, editor)
    const between = new Date()
    await new Promise((resolve) => setTimeout(resolve, 5))
    await register.changeLink(now, { standing: 'paused' })
    const after = new Date()
    expect(await past(before)).toMatchObject({
      status: 302,
      location: link!.destination,
      by: 'link',
      decided: { action: 'create' },
    })
    expect(await past(between)).toMatchObject({
      location: 'https://second.example/',
      decided: { action: 'change-destination', actor: 'editor' },
    })
    expect(await past(after)).toMatchObject({ status: 404, location: null, decided: { action: 'pause' } })
    expect(await past(new Date(Date.parse(link!.createdAt) - 1))).toMatchObject({
      status: 404,
      by: 'not-found',
      link: null,
    })
  })

  it('knows of changes to many links from the moment they count', async () => {
    const at = new Date(Date.now() + 3000)
    const proposal = await propose({ select: { host: host() }, change: moveHost(), at: at.toISOString() })
    await apply(proposal)
    await makeDueChanges(register.db)
    const wait = at.getTime() - Date.now() + 20
    await new Promise((resolve) => setTimeout(resolve, Math.max(0, wait)))
    const past = async (moment: number) =>
      (
        await lookUpPast(register.db, {
          address: `ansl.example/b${round}`,
          at: new Date(moment).toISOString(),
          acceptLanguage: '',
        })
      ).location
    expect(await past(at.getTime() - 1)).toContain(host())
    expect(await past(at.getTime())).toContain(`new${round}.example`)
  })

  it('knows old addresses of renamed links and removed rules', async () => {
    const rule = await register.rule(`/family${round}/:id`, 'https://family.example/{id}')
    const before = new Date()
    await new Promise((resolve) => setTimeout(resolve, 5))
    await register.changeLink(links[0]!, { slug: `renamed${round}`, forward: false })
    await register.changeRule(rule, { active: false })
    const past = (address: string, at: Date) =>
      lookUpPast(register.db, { address, at: at.toISOString(), acceptLanguage: '' })
    expect(await past(`ansl.example/a${round}`, before)).toMatchObject({ by: 'link', link: links[0]!.id })
    expect(await past(`ansl.example/a${round}`, new Date())).toMatchObject({ by: 'not-found' })
    expect(await past(`ansl.example/renamed${round}`, new Date())).toMatchObject({ by: 'link' })
    expect(await past(`ansl.example/family${round}/4`, before)).toMatchObject({
      by: 'rule',
      location: 'https://family.example/4',
    })
    expect(await past(`ansl.example/family${round}/4`, new Date())).toMatchObject({ by: 'not-found' })
  })
})

describe('who still holds an old permanent answer', () => {
  it('is counted by visitors of the window, and falls to nobody', async () => {
    const permanent = await register.link(`p${round}`, 'https://first.example/', { status: 301 })
    const visit = (visitor: string, secondsAgo: number) =>
      register.db.sequelize.query(
        `INSERT INTO visit (at, domain_id, link_id, kind, status, outcome, visitor)
         VALUES (DATE_SUB(UTC_TIMESTAMP(3), INTERVAL ? SECOND), 1, ?, 'visit', 301, 'redirect', UNHEX(?))`,
        { replacements: [secondsAgo, permanent.id, visitor.repeat(32)] },
      )
    await visit('a', 3600)
    await visit('a', 60)
    await visit('b', 80_000)
    await visit('c', 90_000)
    const before = await linkHolders(register.db, permanent.id)
    expect(before.changed).toBeNull()
    expect(before.ifChanged).toMatchObject({ holders: 2 })
    expect(before.ifChanged!.curve.at(-1)!.holders).toBe(0)
    await register.changeLink(permanent, { destination: 'https://second.example/' })
    const after = await linkHolders(register.db, permanent.id)
    expect(after.changed).toMatchObject({ was: 'https://first.example/', holders: 2 })
    const proposal = await propose({ select: { links: [permanent.id] }, change: { set: { status: 302 } } })
    expect(proposal.counts.permanent).toMatchObject({ links: 1, holders: 2 })
  })
})
