import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest'
import { ledgerQuery, remedyRequest, type Link } from '../../core/schemas'
import { judge, type Evidence } from '../../core/targets'
import { keepTargetCase } from '../../server/docket/targets/keep-target-cases'
import { targetRemedies } from '../../server/docket/targets/remedies'
import type { TargetModel } from '../../server/database/models/target'
import { NO_POLITENESS, type Asker } from '../../server/targets/asker'
import { undo } from '../../server/usecases/ledger/undo'
import { listLedger } from '../../server/usecases/ledger/list-ledger'
import { patienceOf } from '../../server/usecases/targets/check-settings'
import { checkTarget } from '../../server/usecases/targets/check-target'
import { ensureTargets } from '../../server/usecases/targets/link-targets'
import { makeOwnAnswers } from '../../server/usecases/targets/own-answers'
import { SitesWorld } from '../../standins/sites/world'
import { administrator, editor, NO_NAMES, refusal, TestRegister } from './register'

let register: TestRegister
let sites: SitesWorld
let asker: Asker
let number = 0
const SITE = 'www.site.example'
const at = (path: string) => `http://${SITE}${path}`

beforeAll(async () => {
  register = await TestRegister.start()
  sites = await SitesWorld.start()
  asker = {
    lookUp: () => Promise.resolve({ ok: true, addresses: ['192.0.2.20'] }),
    mayAsk: () => true,
    way: () => ({ host: '127.0.0.1', port: sites.httpPort }),
    turns: NO_POLITENESS,
    userAgent: 'Fides',
    timeoutMs: 2000,
  }
})
afterAll(async () => {
  await sites.stop()
  await register.stop()
})
beforeEach(() => sites.put({ host: SITE, title: 'A site', pages: { '/a': 'Page A', '/b': 'Page B', '/': 'Front' } }))

const database = () => register.db
/** A link of its own for each test. */
const link = (destination: string): Promise<Link> => register.link(`t${++number}`, destination)
const targetOf = async (made: Link): Promise<TargetModel> => {
  const { destinationHash } = (await database().Link.findByPk(made.id))!
  return (await database().Target.findOne({ where: { hash: destinationHash } }))!
}
const IMPATIENT = {
  checkNetworks: [],
  checkPerHost: 2,
  checkPerSecond: 1,
  checkContact: '',
  brokenAfter: 2,
  brokenOverMinutes: 0,
  visitDays: 90,
  keepNetwork: false,
  honourGpc: true,
  fewPeople: 5,
  version: 1,
}
async function check(made: Link): Promise<TargetModel> {
  await ensureTargets(database(), null)
  const target = await targetOf(made)
  await target.update({ leasedBy: 'me', leasedUntil: new Date(Date.now() + 60_000) })
  await checkTarget(database(), { asker, settings: IMPATIENT }, target)
  const now = (await database().Target.findByPk(target.id))!
  await keepTargetCase(database(), now, patienceOf(IMPATIENT))
  return now
}
const caseOf = (target: TargetModel) => database().DocketCase.findOne({ where: { caseKey: target.hash } })

describe('a destination', () => {
  it('has one row however many links lead there, and each check is written once', async () => {
    const one = await link(at('/a'))
    const other = await link('HTTP://WWW.SITE.EXAMPLE:80/a')
    await ensureTargets(database(), null)
    expect((await targetOf(one)).id).toBe((await targetOf(other)).id)
    const target = await check(one)
    expect(target).toMatchObject({ verdict: 'sound', confidence: 'sound', title: 'Page A | A site', checks: 1 })
    expect(await database().TargetCheck.count({ where: { targetId: target.id } })).toBe(1)
    expect((await database().Link.findByPk(other.id))!.targetRank).toBe(1)
    expect(
      judge((await database().TargetCheck.findOne({ where: { targetId: target.id } }))!.evidence as Evidence).verdict,
    ).toBe('sound')
  })

  it(
    'becomes a case when failures are settled, settles when it answers again, and comes back as the same ' + 'case',
    async () => {
      const made = await link(at('/b'))
      sites.play(SITE, '/b', 'not-found')
      expect(await caseOf(await check(made))).toBeNull()
      const broken = await check(made)
      expect(broken).toMatchObject({ verdict: 'not-found', confidence: 'broken' })
      const opened = (await caseOf(broken))!
      expect(opened).toMatchObject({ state: 'open', kind: 'not-found', severity: 'broken', linkId: made.id })
      expect((await database().Link.findByPk(made.id))!.targetRank).toBe(3)
      // Another check that sees the same is no news to whoever has the case before them.
      await check(made)
      expect((await caseOf(broken))!.version).toBe(opened.version)
      sites.play(SITE, '/b', 'server-error')
      await check(made)
      expect(await caseOf(broken)).toMatchObject({ id: opened.id, kind: 'server-error', state: 'open' })
      sites.play(SITE, '/b', undefined)
      await check(made)
      expect(await caseOf(broken)).toMatchObject({ state: 'settled', settledBy: 'itself' })
      sites.play(SITE, '/b', 'gone')
      await check(made)
      await check(made)
      expect(await caseOf(broken)).toMatchObject({ id: opened.id, state: 'open', kind: 'not-found' })
    },
  )

  it('is asked with HEAD once that was seen answered as GET is, and with GET where HEAD finds fault', async () => {
    sites.put({ host: 'files.example', title: 'Files', pages: { '/plan.pdf': 'Plan' } })
    const methods: string[] = []
    sites.seen = ({ host, method }) => host === 'files.example' && methods.push(method)
    const made = await link('http://files.example/plan.pdf')
    expect(await check(made)).toMatchObject({ verdict: 'sound', headWorks: true })
    await check(made)
    sites.play('files.example', '/plan.pdf', 'gone')
    expect(await check(made)).toMatchObject({ verdict: 'not-found' })
    expect(methods).toEqual(['GET', 'HEAD', 'HEAD', 'HEAD', 'GET'])
  })

  it('is not written by who lost the lease meanwhile', async () => {
    const made = await link(at('/a?lease'))
    await ensureTargets(database(), null)
    const target = await targetOf(made)
    await target.update({ leasedBy: 'me', leasedUntil: new Date(Date.now() + 60_000) })
    await database().Target.update({ leasedBy: 'another' }, { where: { id: target.id } })
    expect(await checkTarget(database(), { asker, settings: IMPATIENT }, target)).toBeUndefined()
    expect(await database().TargetCheck.count({ where: { targetId: target.id } })).toBe(0)
  })

  it('rests, and its case settles, when no link leads there any more', async () => {
    const made = await link(at('/rest'))
    await check(made)
    const target = await check(made)
    expect(await caseOf(target)).toMatchObject({ state: 'open' })
    await register.changeLink(await fresh(made), { destination: at('/a') })
    const before = target.checks
    await target.update({ leasedBy: 'me', leasedUntil: new Date(Date.now() + 60_000) })
    await checkTarget(database(), { asker, settings: IMPATIENT }, target)
    await keepTargetCase(database(), target, patienceOf(IMPATIENT))
    expect((await database().Target.findByPk(target.id))!.checks).toBe(before)
    expect(await caseOf(target)).toMatchObject({ state: 'settled', settledBy: 'itself' })
  })
})

const fresh = async (made: Link): Promise<Link> => ({
  ...made,
  version: (await database().Link.findByPk(made.id))!.version,
})
const destinationOf = async (made: Link) => (await database().Link.findByPk(made.id))!.destination

describe('a remedy', () => {
  async function broken(path: string, count: number): Promise<{ links: Link[]; target: TargetModel }> {
    const links = []
    for (let index = 0; index < count; index++) links.push(await link(at(path)))
    await check(links[0]!)
    const target = await check(links[0]!)
    return { links, target }
  }
  async function offer(target: TargetModel, destination: string, more = {}) {
    await target.update({
      remedies: {
        at: Date.now(),
        offers: [
          {
            kind: 'sitemap',
            destination,
            why: 'It is there.',
            verified: 'answers 200',
            title: '',
            sureness: 0.9,
            ...more,
          },
        ],
        failed: [],
      },
    })
    const row = (await caseOf(target))!
    return (await targetRemedies(database(), NO_NAMES, row))[0]!
  }

  it('moves all links of a destination in one entry, undone by one', async () => {
    const { links, target } = await broken('/many', 3)
    const remedy = await offer(target, at('/a'))
    expect(remedy.view.scopes.map(({ scope, links: count }) => [scope, count])).toEqual([
      ['destination', 3],
      ['link', 1],
    ])
    const told = await remedy.apply!(administrator, remedyRequest.parse({ scope: 'destination' }))
    expect(told).toBe(`3 links now lead to ${at('/a')}.`)
    for (const one of links) expect(await destinationOf(one)).toBe(at('/a'))
    const entry = await register.entry('change-destination')
    expect(entry.subjectKind).toBe('links')
    const history = await listLedger(
      database(),
      { memberId: null, name: 'test', role: 'administrator' },
      ledgerQuery.parse({}),
      links[1]!.id,
    )
    expect(history.items[0]).toMatchObject({
      id: entry.id,
      before: { destination: at('/many') },
      after: { destination: at('/a') },
    })
    await undo(database(), NO_NAMES, administrator, entry.id, { overwrite: false })
    for (const one of links) expect(await destinationOf(one)).toBe(at('/many'))
  })

  it('moves one link alone where that is asked for, as a change of that link', async () => {
    const { links, target } = await broken('/alone', 2)
    const remedy = await offer(target, at('/b'))
    await remedy.apply!(administrator, remedyRequest.parse({ scope: 'link' }))
    expect([await destinationOf(links[0]!), await destinationOf(links[1]!)].sort()).toEqual([at('/alone'), at('/b')])
    expect(await register.entry('change-destination')).toMatchObject({ subjectKind: 'link' })
  })

  it('is refused where somebody changed a link meanwhile, and undoing where somebody changed it since', async () => {
    const { links, target } = await broken('/meanwhile', 2)
    const remedy = await offer(target, at('/a'))
    await remedy.apply!(administrator, {})
    const entry = await register.entry('change-destination')
    await register.changeLink(await fresh(links[0]!), { destination: at('/b') })
    const problem = await refusal(undo(database(), NO_NAMES, administrator, entry.id, { overwrite: false }))
    expect(problem).toMatchObject({ status: 409, title: 'Would overwrite a later change' })
    expect(await refusal(remedy.apply!(administrator, {}))).toMatchObject({ status: 409 })
    expect(await destinationOf(links[0]!)).toBe(at('/b'))
  })

  it('goes to all that the same move explains, each to its own new place', async () => {
    const paths = ['x', 'y', 'z', 'w']
    const move = { fromStart: `http://${SITE}/old/`, toStart: `http://${SITE}/new/`, fromEnd: '', toEnd: '' }
    const all = []
    for (const path of paths) all.push(await broken(`/old/${path}`, 1))
    const given = { kind: 'sister-move', move: { move, sisters: 3 } }
    for (const [index, { target }] of all.entries()) await offer(target, at(`/new/${paths[index]}`), given)
    const remedy = await offer(all[0]!.target, at('/new/x'), given)
    expect(remedy.view.scopes.at(-1)).toMatchObject({ scope: 'move', links: 4 })
    await remedy.apply!(administrator, remedyRequest.parse({ scope: 'move' }))
    for (const [index, { links }] of all.entries())
      expect(await destinationOf(links[0]!)).toBe(at(`/new/${paths[index]}`))
    expect(await register.entry('change-destination')).toMatchObject({ subjectKind: 'links' })
  })

  it('may be undone by who may apply it alone', async () => {
    const entry = await register.entry('change-destination')
    expect(await refusal(undo(database(), NO_NAMES, editor, entry.id, { overwrite: false }))).toMatchObject({
      status: 403,
    })
  })
})

describe('our own addresses', () => {
  it('are answered from the table', async () => {
    const made = await register.link('own', at('/a'))
    const own = makeOwnAnswers(database())
    expect(await own('https://ansl.example/own')).toMatchObject({ location: made.destination })
    expect(await own('https://ansl.example/OWN.')).toMatchObject({ status: 404 })
    expect(await own('https://ansl.example/nothing-here')).toMatchObject({ status: 404, location: null })
    expect(await own('https://elsewhere.example/own')).toBeUndefined()
  })
})
