import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest'
import { patchProposalRows } from '../../server/usecases/changes/proposal-view'
import { changeProposal, computeAgain, readProposal, withdrawProposal } from '../../server/usecases/changes/proposals'
import { listLedger } from '../../server/usecases/ledger/list-ledger'
import { undo } from '../../server/usecases/ledger/undo'
import { Partner } from './partner'
import { administrator, editor, NO_NAMES, refusal, TestRegister } from './register'

let register: TestRegister
let partner: Partner
beforeAll(async () => (register = await TestRegister.start()))
afterAll(() => register.stop())
beforeEach(async () => (partner = await Partner.make(register)))

describe('a change to many links', () => {
  it('shows each link before and after, and changes nothing until it is applied', async () => {
    const proposal = await partner.proposeMove()
    expect(proposal).toMatchObject({
      state: 'ready',
      total: 3,
      counts: { change: 3, clash: 0, unchanged: 0, refused: 0 },
    })
    expect(proposal.words).toBe(`moves ${partner.host} to ${partner.newHost}`)
    const told = await partner.rows(proposal)
    expect(told.map(({ address, before, after }) => [address, before, after])).toContainEqual([
      `ansl.example/a${partner.number}`,
      { destination: `https://${partner.host}/a?x=1#f` },
      { destination: `https://${partner.newHost}/a?x=1#f` },
    ])
    expect(await partner.destinations()).toEqual(partner.links.map(({ destination }) => destination))
  })

  it('is written as one entry, told in each link’s history, and undone as one', async () => {
    const proposal = await partner.proposeMove()
    const applied = await partner.apply(proposal)
    expect(applied.state).toBe('applied')
    expect(await partner.destinations()).toEqual(
      ['a', 'b', 'c'].map((name) => `https://${partner.newHost}/${name}?x=1#f`),
    )
    const entry = await register.entry('change-destination')
    expect(entry.id).toBe(applied.entry)
    const { items } = await listLedger(register.db, administrator, { limit: 5 } as never, partner.links[1]!.id)
    expect(items[0]).toMatchObject({
      id: entry.id,
      before: { destination: `https://${partner.host}/b?x=1#f` },
      after: { destination: `https://${partner.newHost}/b?x=1#f` },
    })
    const back = await undo(register.db, NO_NAMES, administrator, entry.id, { overwrite: false })
    expect(await partner.destinations()).toEqual(partner.links.map(({ destination }) => destination))
    expect((await refusal(undo(register.db, NO_NAMES, administrator, entry.id, { overwrite: false }))).status).toBe(409)
    // And back again.
    await undo(register.db, NO_NAMES, administrator, back.id, { overwrite: false })
    expect((await partner.destinations())[0]).toBe(`https://${partner.newHost}/a?x=1#f`)
  })

  it('sets fields and tags together', async () => {
    const proposal = await partner.propose({
      select: { links: partner.ids },
      change: {
        set: { owner: 'Ben', status: 301, endsAt: '2030-01-01T00:00:00Z' },
        tags: { add: ['moved'], remove: ['partner'] },
      },
    })
    await partner.apply(proposal)
    const now = await partner.link(0)
    expect(now).toMatchObject({
      owner: 'Ben',
      status: 301,
      endsAt: '2030-01-01T00:00:00.000Z',
      tags: ['moved'],
      version: 2,
    })
    const entry = await register.entry('change')
    await undo(register.db, NO_NAMES, administrator, entry.id, { overwrite: false })
    expect(await partner.link(0)).toMatchObject({
      owner: '',
      status: partner.links[0]!.status,
      endsAt: null,
      tags: ['partner'],
    })
  })

  it('refuses all of it where somebody changed one of the links meanwhile, and says which', async () => {
    const proposal = await partner.proposeMove()
    await register.changeLink(partner.links[1]!, { title: 'Changed by someone else' })
    const refused = await refusal(partner.apply(proposal))
    expect(refused.status).toBe(409)
    expect(refused.message).toContain(`ansl.example/b${partner.number} was changed`)
    expect(await partner.destinations()).toEqual(partner.links.map(({ destination }) => destination))
    const again = await partner.ready(await computeAgain(register.db, proposal.id))
    expect((await partner.apply(again)).state).toBe('applied')
  })

  it('an undoing refuses what changed again since, unless told to overwrite', async () => {
    const applied = await partner.apply(await partner.proposeMove())
    const now = await partner.link(0)
    await register.changeLink(now, { destination: 'https://third.example/' })
    const refused = await refusal(undo(register.db, NO_NAMES, administrator, applied.entry!, { overwrite: false }))
    expect(refused.title).toBe('Would overwrite a later change')
    expect((await partner.destinations())[1]).toContain(`${partner.newHost}`)
    await undo(register.db, NO_NAMES, administrator, applied.entry!, { overwrite: true })
    expect(await partner.destinations()).toEqual(partner.links.map(({ destination }) => destination))
  })

  it('leaves out what somebody leaves out', async () => {
    const proposal = await partner.proposeMove()
    const [first] = await partner.rows(proposal)
    const now = await patchProposalRows(register.db, proposal.id, { positions: [first!.position], leftOut: true })
    expect(now.counts).toMatchObject({ change: 2, leftOut: 1 })
    expect((await partner.rows(proposal, { kind: 'left-out' })).map(({ link }) => link)).toEqual([first!.link])
    await partner.apply(now)
    expect(
      (await partner.destinations()).filter((destination) => destination.includes(`new${partner.number}`)),
    ).toHaveLength(2)
  })

  it('tells what would lead in a circle, and leaves it as it is', async () => {
    await register.link(`circle${partner.number}`, `https://ansl.example/a${partner.number}`)
    const proposal = await partner.propose({
      select: { links: [partner.links[0]!.id] },
      change: { steps: [{ do: 'set', destination: `https://ansl.example/circle${partner.number}` }] },
    })
    expect(proposal.counts).toMatchObject({ change: 0, clash: 1 })
    expect((await partner.rows(proposal))[0]!.why).toContain('Redirect loop')
    expect((await refusal(partner.apply(proposal))).title).toBe('Nothing to change')
  })

  it('tells a circle through an address whose slug is escaped', async () => {
    const odd = await register.link(`über-${partner.number}`, partner.links[0]!.destination)
    const to = `https://ansl.example/${encodeURIComponent(odd.slug)}`
    await register.link(`through${partner.number}`, to)
    const proposal = await partner.propose({
      select: { addresses: [to] },
      change: { steps: [{ do: 'set', destination: `https://ansl.example/through${partner.number}` }] },
    })
    expect(proposal.counts).toMatchObject({ change: 0, clash: 1, unknown: [] })
  })

  it('refuses a circle that somebody closes after it was worked out', async () => {
    const proposal = await partner.propose({
      select: { links: [partner.links[0]!.id] },
      change: { steps: [{ do: 'set', destination: `https://ansl.example/b${partner.number}` }] },
    })
    expect(proposal.counts.change).toBe(1)
    await register.changeLink(partner.links[1]!, { destination: `https://ansl.example/a${partner.number}` })
    const refused = await refusal(partner.apply(proposal))
    expect(refused.title).toBe('Redirect loop')
    expect((await readProposal(register.db, proposal.id)).state).toBe('ready')
  })

  it('selects by pasted addresses, and tells those that are none of ours', async () => {
    const proposal = await partner.propose({
      select: {
        addresses: [
          `https://ansl.example/A${partner.number}/`,
          `ansl.example/c${partner.number}?x`,
          'ansl.example/none',
          'elsewhere.example/a',
          '',
        ],
      },
      change: partner.move,
    })
    expect((await partner.rows(proposal)).map(({ link }) => link).sort()).toEqual(
      [partner.links[0]!.id, partner.links[2]!.id].sort(),
    )
    expect(proposal.counts.unknown).toEqual(['elsewhere.example/a', 'ansl.example/none'])
  })

  it('is made once, however many ask at once', async () => {
    const proposal = await partner.proposeMove()
    const told = await Promise.allSettled(Array.from({ length: 8 }, () => partner.apply(proposal)))
    expect(told.filter(({ status }) => status === 'fulfilled')).toHaveLength(1)
    expect((await partner.link(0)).version).toBe(2)
  })

  it('is withdrawn by who made it or an administrator, and then cannot be made', async () => {
    const proposal = await partner.proposeMove()
    expect((await refusal(withdrawProposal(register.db, { ...editor, memberId: 99 }, proposal.id))).status).toBe(403)
    await withdrawProposal(register.db, administrator, proposal.id)
    expect((await refusal(partner.apply(proposal))).status).toBe(409)
  })

  it('of another version than was looked at is refused', async () => {
    const proposal = await partner.proposeMove()
    await changeProposal(register.db, proposal.id, proposal.version, { reason: 'another' })
    expect((await refusal(partner.apply(proposal))).status).toBe(412)
  })
})
