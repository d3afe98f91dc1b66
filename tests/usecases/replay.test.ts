import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest'
import { replayRequest, type ReplayView } from '../../core/schemas'
import { askForReplay, cancelReplay, readReplay } from '../../server/usecases/replay/replays'
import { Partner } from './partner'
import { administrator, refusal, TestRegister } from './register'

let register: TestRegister
let partner: Partner
beforeAll(async () => (register = await TestRegister.start()))
afterAll(() => register.stop())
beforeEach(async () => {
  partner = await Partner.make(register)
  await register.db.sequelize.query('DELETE FROM stray_day')
  await register.db.sequelize.query('DELETE FROM visit_day')
})

const sql = (text: string, replacements: unknown[] | Record<string, unknown>) =>
  register.db.sequelize.query(text, { replacements })
/** Visits of a link on a day, so many days ago. */
const days = (id: number, ago: number, visits: number) =>
  sql('INSERT INTO visit_day (link_id, day, visits) VALUES (?, DATE_SUB(UTC_DATE(), INTERVAL ? DAY), ?)', [
    id,
    ago,
    visits,
  ])
/** One request that had no link of its own, or was mended. */
const request = (path: string, more: { link?: number; mended?: string; language?: string; ago?: number } = {}) =>
  sql(
    `INSERT INTO stray_day (day, domain_id, print, path, language, outcome, mended, link_id, requests, last_at)
     VALUES (DATE_SUB(UTC_DATE(), INTERVAL :ago DAY), 1, UNHEX(MD5(CONCAT(:path, :language, :mended))), :path,
       :language,
       'not-found', :mended, :link, 1, UTC_TIMESTAMP(3))
     ON DUPLICATE KEY UPDATE requests = requests + 1`,
    { path, language: more.language ?? '', mended: more.mended ?? '', link: more.link ?? 0, ago: more.ago ?? 1 },
  )

const ask = (input: object) => askForReplay(register.db, register.url, administrator, replayRequest.parse(input))
async function replayed(input: object): Promise<ReplayView> {
  const { id } = await ask(input)
  for (let tries = 0; tries < 2000; tries++) {
    const now = await readReplay(register.db, id)
    if (now.state !== 'running') return now
    await new Promise((resolve) => setTimeout(resolve, 20))
  }
  throw new Error('the replay never ended')
}

describe('a replay of past requests', () => {
  it('of a proposal counts what lands elsewhere, with examples and how often', async () => {
    const [a, b] = partner.links
    await days(a!.id, 1, 10)
    await days(a!.id, 2, 5)
    await days(a!.id, 40, 1000)
    await days(b!.id, 1, 3)
    await request('nothing-here')
    await request('nothing-here')
    const proposal = await partner.propose({ select: { links: [a!.id] }, change: partner.move })
    const told = await replayed({ proposal: proposal.id })
    expect(told).toMatchObject({ state: 'done', requests: 20, days: 28 })
    expect(told.counts).toEqual({ loop: 0, lost: 0, elsewhere: 15, served: 0, status: 0, missing: 2, same: 3 })
    expect(told.examples.elsewhere).toEqual([
      {
        host: 'ansl.example',
        target: `/a${partner.number}`,
        count: 15,
        before: { status: 302, found: true, end: a!.destination, loops: false },
        after: { status: 302, found: true, end: a!.destination.replace('old', 'new'), loops: false },
      },
    ])
  })

  it('leaves out what somebody left out of the proposal', async () => {
    for (const { id } of partner.links) await days(id, 1, 1)
    const proposal = await partner.proposeMove()
    const [row] = await partner.rows(proposal)
    await sql('UPDATE proposal_row SET left_out = TRUE WHERE proposal_id = ? AND position = ?', [
      proposal.id,
      row!.position,
    ])
    expect((await replayed({ proposal: proposal.id })).counts).toMatchObject({ elsewhere: 2, same: 1 })
  })

  it('asks for what was mended by the address it came to, not by the link’s own', async () => {
    const [a] = partner.links
    await days(a!.id, 1, 10)
    await request(`a${partner.number}).`, { link: a!.id, mended: 'punctuation' })
    const proposal = await partner.proposeMove()
    // The domain of the tests mends nothing: today it is not found.
    expect((await replayed({ proposal: proposal.id })).counts).toMatchObject({ elsewhere: 9, missing: 1 })
  })

  it('of a domain that reads addresses otherwise, with what is decided about links it does not fit', async () => {
    const n = partner.number
    await register.link(`case${n}`, 'https://one.example/')
    await request(`CASE${n}`, { ago: 2 })
    await request(`CASE${n}`, { ago: 3 })
    const slugs = { domain: 'ansl.example', capitalsMatter: true, trailingSlashMatters: false }
    const strict = await replayed({ slugs })
    // Capitals do not matter on this domain, so what was asked in capitals is found today, and would not be.
    expect(strict.counts).toMatchObject({ lost: 2, missing: 0 })
    expect(strict.examples.lost[0]).toMatchObject({ target: `/CASE${n}`, after: { found: false } })
    const [a, b] = partner.links
    await days(a!.id, 1, 5)
    await days(b!.id, 1, 4)
    const decisions = {
      [a!.id]: { do: 'rename', slug: `other${n}` },
      [b!.id]: { do: 'end' },
    }
    const told = await replayed({ slugs: { ...slugs, capitalsMatter: false, decisions } })
    expect(told.counts).toMatchObject({ same: 5 + 2, lost: 4 })
  })

  it('of a domain’s rules as they would be tells who is newly served, by the language they asked for', async () => {
    await request('line/4', { language: 'pt' })
    await request('line/5', { language: 'de' })
    const rule = {
      pattern: '/line/:id',
      destination: 'https://lines.example/{id}',
      condition: [{ kind: 'language', languages: ['pt'] }],
    }
    const told = await replayed({ rules: { domain: 'ansl.example', items: [rule] } })
    expect(told.counts).toMatchObject({ served: 1, missing: 1 })
    expect(told.examples.served[0]).toMatchObject({ target: '/line/4', after: { end: 'https://lines.example/4' } })
  })

  it('of two moments of the ledger tells what would have happened', async () => {
    const [a] = partner.links
    await days(a!.id, 1, 7)
    const before = new Date()
    await new Promise((resolve) => setTimeout(resolve, 5))
    await partner.apply(await partner.propose({ select: { links: [a!.id] }, change: { set: { standing: 'ended' } } }))
    const told = await replayed({ moments: { before: before.toISOString() } })
    expect(told.counts).toMatchObject({ lost: 7 })
  })

  it('is refused what it cannot answer, and can be stopped', async () => {
    const faults = (input: object) =>
      replayRequest
        .safeParse(input)
        .error?.issues.map(({ message }) => message)
        .join(' ')
    expect(faults({})).toContain('in exactly one way')
    expect(faults({ proposal: 1, moments: { before: new Date().toISOString() } })).toContain('in exactly one way')
    expect((await refusal(ask({ proposal: 999_999 }))).status).toBe(404)
    const ahead = new Date(Date.now() + 60_000).toISOString()
    expect((await refusal(ask({ moments: { before: ahead } }))).message).toContain('must lie in the past')
    const proposal = await partner.proposeMove()
    const { id } = await ask({ proposal: proposal.id })
    await cancelReplay(register.db, id)
    expect((await readReplay(register.db, id)).state).toBe('cancelled')
  })

  it('whose process was ended is told to have failed', async () => {
    const request = replayRequest.parse({ moments: { before: new Date().toISOString() } })
    const long = new Date(Date.now() - 3_600_000)
    const row = await register.db.Replay.create({
      memberId: null,
      proposalId: null,
      request,
      askedAt: long,
      leasedUntil: long,
      resumeState: 'failed',
      resumeProblem: 'The replay was interrupted; start it again.',
      resumeEnded: true,
    })
    const now = await readReplay(register.db, row.id)
    expect(now).toMatchObject({ state: 'failed', problem: expect.stringContaining('was interrupted') })
  })
})
