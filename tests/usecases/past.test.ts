import mariadb from 'mariadb'
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest'
import { connectionConfig } from '../../environment/database-url'
import { makeDueChanges } from '../../server/usecases/changes/due-proposals'
import { linkHolders } from '../../server/usecases/changes/holders'
import { temporaryFirst } from '../../server/usecases/changes/temporary-first'
import { lookUpPast } from '../../server/usecases/ledger/look-up-past'
import { readLink } from '../../server/usecases/links/read-link'
import { storeBatches } from '../../shipper/batch'
import { A_VISIT } from './a-visit'
import { Partner } from './partner'
import { editor, refusal, TestRegister } from './register'

let register: TestRegister
let partner: Partner
beforeAll(async () => (register = await TestRegister.start()))
afterAll(() => register.stop())
beforeEach(async () => (partner = await Partner.make(register)))

describe('the past', () => {
  it('tells what an address led to at a moment, and who decided that', async () => {
    const [link] = partner.links
    const past = (at: Date) =>
      lookUpPast(register.db, { address: `ansl.example/a${partner.number}`, at: at.toISOString(), acceptLanguage: '' })
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
    const proposal = await partner.proposeMove({ at: at.toISOString() })
    await partner.apply(proposal)
    await makeDueChanges(register.db)
    const wait = at.getTime() - Date.now() + 20
    await new Promise((resolve) => setTimeout(resolve, Math.max(0, wait)))
    const past = async (moment: number) =>
      (
        await lookUpPast(register.db, {
          address: `ansl.example/b${partner.number}`,
          at: new Date(moment).toISOString(),
          acceptLanguage: '',
        })
      ).location
    expect(await past(at.getTime() - 1)).toContain(partner.host)
    expect(await past(at.getTime())).toContain(`${partner.newHost}`)
  })

  it('knows old addresses of renamed links and removed rules', async () => {
    const rule = await register.rule(`/family${partner.number}/:id`, 'https://family.example/{id}')
    const before = new Date()
    await new Promise((resolve) => setTimeout(resolve, 5))
    await register.changeLink(partner.links[0]!, { slug: `renamed${partner.number}`, forward: false })
    await register.changeRule(rule, { active: false })
    const past = (address: string, at: Date) =>
      lookUpPast(register.db, { address, at: at.toISOString(), acceptLanguage: '' })
    expect(await past(`ansl.example/a${partner.number}`, before)).toMatchObject({
      by: 'link',
      link: partner.links[0]!.id,
    })
    expect(await past(`ansl.example/a${partner.number}`, new Date())).toMatchObject({ by: 'not-found' })
    expect(await past(`ansl.example/renamed${partner.number}`, new Date())).toMatchObject({ by: 'link' })
    expect(await past(`ansl.example/family${partner.number}/4`, before)).toMatchObject({
      by: 'rule',
      location: 'https://family.example/4',
    })
    expect(await past(`ansl.example/family${partner.number}/4`, new Date())).toMatchObject({ by: 'not-found' })
  })
})

describe('who still holds an old permanent answer', () => {
  it('is counted by visitors of the window, and falls to nobody', async () => {
    const permanent = await register.link(`p${partner.number}`, 'https://first.example/', { status: 301 })
    const connection = await mariadb.createConnection(connectionConfig(register.url))
    const visit = async (visitor: string, secondsAgo: number) => {
      const event = {
        ...A_VISIT,
        status: 301,
        at: Date.now() - secondsAgo * 1000,
        linkId: permanent.id,
        visitor: visitor.repeat(32),
      }
      await storeBatches(connection, [{ key: `${visitor} ${secondsAgo}`, events: [event], cuts: [] }], 'UTC')
    }
    await visit('a', 3600)
    await visit('a', 60)
    await visit('b', 80_000)
    await visit('c', 90_000)
    await connection.end()
    const before = await linkHolders(register.db, permanent.id)
    expect(before.changed).toBeNull()
    expect(before.ifChanged).toMatchObject({ holders: 2 })
    expect(before.ifChanged!.curve.at(-1)!.holders).toBe(0)
    await register.changeLink(permanent, { destination: 'https://second.example/' })
    const after = await linkHolders(register.db, permanent.id)
    expect(after.changed).toMatchObject({ was: 'https://first.example/', holders: 2 })
    const proposal = await partner.propose({ select: { links: [permanent.id] }, change: { set: { status: 302 } } })
    expect(proposal.counts.permanent).toMatchObject({ links: 1, holders: 2 })
  })
})

describe('temporary first', () => {
  it('answers temporarily at once, and gets the new destination when nobody holds the old answer', async () => {
    const permanent = await register.link(`t${partner.number}`, 'https://first.example/', { status: 308 })
    const to = 'https://second.example/'
    const plan = await temporaryFirst(register.db, editor, permanent.id, permanent.version, { destination: to })
    expect(plan).toMatchObject({ state: 'waiting', counts: { change: 1 } })
    const window = Date.parse(plan.at!) - Date.now()
    expect(window).toBeGreaterThan(86_400_000)
    expect(window).toBeLessThan(86_400_000 + 120_000)
    expect(await readLink(register.db, permanent.id)).toMatchObject({
      status: 307,
      destination: 'https://first.example/',
    })
    await register.db.Proposal.update({ at: new Date(Date.now() - 1000) }, { where: { id: plan.id } })
    expect((await makeDueChanges(register.db)).made).toEqual([plan.id])
    expect(await readLink(register.db, permanent.id)).toMatchObject({ status: 308, destination: to })
  })

  it('is refused for a link that is temporary, and for one that was changed', async () => {
    const link = partner.links[0]!
    const given = { destination: 'https://second.example/' }
    expect((await refusal(temporaryFirst(register.db, editor, link.id, link.version, given))).status).toBe(409)
    const permanent = await register.link(`u${partner.number}`, 'https://first.example/', { status: 301 })
    expect((await refusal(temporaryFirst(register.db, editor, permanent.id, 99, given))).status).toBe(412)
  })
})
