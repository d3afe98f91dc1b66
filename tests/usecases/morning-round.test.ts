import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest'
import { roundApply, type Link, type RoundFix } from '../../core/schemas'
import { missKey } from '../../server/docket/misses/keys'
import { applyRound } from '../../server/usecases/docket/round/apply-round'
import { readRound } from '../../server/usecases/docket/round/read-round'
import { undo } from '../../server/usecases/ledger/undo'
import { destinationHash } from '../../server/usecases/links/link-state'
import { administrator, NO_NAMES, refusal, TestRegister } from './register'

let register: TestRegister
beforeAll(async () => (register = await TestRegister.start()))
afterAll(() => register.stop())
const db = () => register.db
const round = () => readRound(db())
const apply = (chosen: readonly RoundFix[]) => {
  const fixes = chosen.map(({ case: id, version }) => ({ case: id, version }))
  return applyRound(db(), NO_NAMES, administrator, roundApply.parse({ fixes, reason: 'for a test' }))
}
const all = async () => (await round()).groups.flatMap(({ fixes }) => fixes)
const destinationOf = async ({ id }: Link) => (await db().Link.findByPk(id))!.destination
const caseRow = {
  state: 'open',
  severity: 'broken',
  headline: 'Test',
  sentence: 'Test.',
  evidence: [],
  openedAt: new Date(),
  seenAt: new Date(),
}

/** A destination that moved, with a remedy found just now. */
async function moved(slug: string, { sureness = 0.99, kind = 'chain-end', impact = 5 } = {}) {
  const old = `https://old.example/${slug}`
  const link = await register.link(slug, old)
  const hash = destinationHash(old)
  const offer = {
    kind,
    destination: `https://new.example/${slug}`,
    why: '',
    verified: 'answers 200',
    title: '',
    sureness,
  }
  await db().Target.create({
    hash,
    destination: old,
    host: 'old.example',
    dueAt: new Date(),
    madeAt: new Date(),
    remedies: { at: Date.now(), offers: [offer], failed: [] },
  } as never)
  const row = await db().DocketCase.create({
    ...caseRow,
    lane: 'targets',
    kind: 'moved',
    caseKey: hash,
    subject: old,
    domainId: 1,
    linkId: link.id,
    impact,
  } as never)
  return { link, row }
}

/** An address that was requested in place of a link's. */
async function mistyped(path: string, link: Link, probability = 0.99) {
  const now = new Date()
  const candidate = { link: link.id, address: link.address, destination: link.destination, live: true, probability }
  const miss = await db().Miss.create({
    domainId: 1,
    path,
    shape: path,
    answered: false,
    noise: null,
    firstAt: now,
    lastAt: now,
    linkId: null,
    visitors28: 54,
    likely: probability,
    ranking: { candidates: [candidate], none: 0.01 },
  } as never)
  const row = await db().DocketCase.create({
    ...caseRow,
    lane: 'misses',
    kind: 'missed',
    caseKey: missKey(miss),
    subject: `ansl.example/${path}`,
    domainId: 1,
    impact: 1.9,
  } as never)
  return { miss, row }
}

beforeEach(async () => {
  await db().DocketCase.destroy({ where: {} })
  await db().Target.destroy({ where: {} })
  await db().Miss.destroy({ where: {} })
})

describe('the morning round', () => {
  it('has the remedies that need no decision, by cause, and no others', async () => {
    const night = await moved('round-night')
    await moved('round-unsure', { sureness: 0.6, kind: 'sitemap' })
    const clear = await mistyped('rouund-night', night.link)
    await mistyped('nigth', night.link, 0.34)
    const plan = await round()
    expect(plan).toMatchObject({ fixes: 2, links: 1, slugs: 1, visits: 6.9 })
    expect(plan.groups.map(({ title, fixes }) => [title, fixes.map(({ case: id }) => id)])).toEqual([
      ['Destinations that redirect permanently', [night.row.id]],
      ['Mistyped addresses with one clear meaning', [clear.row.id]],
    ])
    expect(plan.groups[0]!.fixes[0]).toMatchObject({
      address: 'ansl.example/round-night',
      before: 'https://old.example/round-night',
      after: 'https://new.example/round-night',
    })
  })

  it('is applied as one entry, settles its cases, and is undone as one', async () => {
    const one = await moved('round-one')
    const two = await moved('round-two')
    const slug = await mistyped('round-onne', one.link)
    const before = await db().LedgerEntry.count()
    const applied = await apply(await all())
    expect(applied).toMatchObject({ applied: 3, links: 2, slugs: 1, dropped: [] })
    expect(await db().LedgerEntry.count()).toBe(before + 1)
    expect(await destinationOf(one.link)).toBe('https://new.example/round-one')
    const forwarding = await db().Link.findOne({ where: { canonical: 'round-onne' } })
    expect(forwarding!.forwardsTo).toBe(one.link.id)
    expect((await db().Miss.findByPk(slug.miss.id))!.answered).toBeTruthy()
    for (const { row } of [one, two, slug])
      expect(await db().DocketCase.findByPk(row.id)).toMatchObject({ state: 'settled', settledBy: administrator.name })
    expect((await round()).fixes).toBe(0)

    await undo(db(), NO_NAMES, administrator, applied.entry!, { overwrite: false })
    for (const { link } of [one, two]) expect(await destinationOf(link)).toContain('https://old.example/')
    expect(await db().Link.findOne({ where: { canonical: 'round-onne', standing: 'live' } })).toBeNull()
  })

  it('leaves out what is no longer true, says so, and applies the rest', async () => {
    const stays = await moved('round-stays')
    const changed = await moved('round-changed')
    const gone = await moved('round-gone')
    const taken = await mistyped('round-taken', stays.link)
    const fixes = await all()
    await db().DocketCase.update({ version: changed.row.version + 1 }, { where: { id: changed.row.id } })
    await register.changeLink(gone.link, { destination: 'https://elsewhere.example/' })
    await register.link('round-taken', 'https://taken.example/', { reason: 'somebody else was quicker' })
    const applied = await apply(fixes)
    expect(applied.applied).toBe(1)
    expect(applied.dropped.map(({ case: id }) => id).sort()).toEqual([changed.row.id, gone.row.id, taken.row.id].sort())
    expect(await destinationOf(gone.link)).toBe('https://elsewhere.example/')
    expect(await destinationOf(changed.link)).toBe('https://old.example/round-changed')
  })

  it('applies nothing twice: the second of two at once finds nothing left', async () => {
    await moved('round-twice')
    const fixes = await all()
    const before = await db().LedgerEntry.count()
    const both = await Promise.allSettled([apply(fixes), apply(fixes)])
    const applied = both.filter((one) => one.status === 'fulfilled' && one.value.applied === 1)
    expect(applied).toHaveLength(1)
    expect(await db().LedgerEntry.count()).toBe(before + 1)
  })

  it('is refused as a whole where it would lead in a circle', async () => {
    const { link, row } = await moved('round-circle')
    await db().Target.update(
      {
        remedies: {
          at: Date.now(),
          offers: [
            {
              kind: 'chain-end',
              destination: 'https://ansl.example/round-circle',
              why: '',
              verified: '',
              title: '',
              sureness: 0.99,
            },
          ],
          failed: [],
        },
      } as never,
      { where: { hash: row.caseKey } },
    )
    expect((await refusal(apply(await all()))).status).toBe(422)
    expect(await destinationOf(link)).toBe('https://old.example/round-circle')
    expect((await db().DocketCase.findByPk(row.id))!.state).toBe('open')
  })
})
