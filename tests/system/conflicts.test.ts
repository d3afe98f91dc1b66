import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { readSurvey } from '../../server/usecases/conflicts/read-survey'
import { TestFides, until, type Told } from './fides'

let fides: TestFides
beforeAll(async () => (fides = await TestFides.start()))
afterAll(() => fides.stop())

const make = (slug: string, destination: string, more: object = {}) =>
  fides.call('editor', 'POST', '/links', { domain: 'ansl.example', slug, destination, ...more })
const cases = async (state = 'open') =>
  (await fides.call('viewer', 'GET', `/cases?lane=conflicts&state=${state}`)).body.items as Told[]
const caseOf = (kind: string, text: string, state = 'open') =>
  until(`a case ${kind} ${text}, ${state}`, async () =>
    (await cases(state)).find((item) => item.kind === kind && item.subject.includes(text)),
  )
const apply = (found: Told, remedy: Told, body: object = {}) =>
  fides.call('administrator', 'POST', `/cases/${found.id}/remedies/${remedy.id}`, body, {
    'if-match': `"${found.version}"`,
  })
const read = async (found: Told) => (await fides.call('administrator', 'GET', `/cases/${found.id}`)).body
const remedy = (found: Told, title: string): Told => found.remedies.find((one: Told) => one.title.startsWith(title))
const location = async (address: string) => (await fides.visit(address)).location

/** Opens a conflict that was kept with a reason again: by a destination of its own. */
async function reopen(link: Told, destination: string): Promise<void> {
  const now = (await fides.call('viewer', 'GET', `/links/${link.id}`)).body
  const changed = await fides.call(
    'editor',
    'PATCH',
    `/links/${link.id}`,
    { destination },
    { 'if-match': `"${now.version}"` },
  )
  if (changed.status !== 200) throw new Error(JSON.stringify(changed.body))
}

describe('saving a link that would be in conflict', () => {
  it('says so first and needs a reason; nothing is stored until then', async () => {
    await make('fares', 'https://fares.example/')
    const before = await fides.db.Link.count()
    const refused = await make('fare', 'https://fare.example/')
    expect(refused).toMatchObject({
      status: 409,
      body: {
        conflicts: [{ kind: 'one-slip', subject: 'ansl.example/fares and ansl.example/fare' }],
        errors: [{ pointer: '/reason' }],
      },
    })
    expect(await fides.db.Link.count()).toBe(before)
    const kept = await make('fare', 'https://fare.example/', { reason: 'on the flyer already' })
    expect(kept.status).toBe(201)
    expect(await caseOf('one-slip', 'fare', 'settled')).toMatchObject({
      kept: true,
      reason: 'on the flyer already',
      settledBy: 'editor',
    })
    // It comes back when what was decided about changes.
    await reopen(kept.body, 'https://fare.example/other')
    expect(await caseOf('one-slip', 'fare')).toMatchObject({ state: 'open', kept: false })
  })

  it('names each kind, and nothing of siblings in a series', async () => {
    expect((await make('stop/4417', 'https://l.example/4417')).status).toBe(201)
    expect((await make('stop/4418', 'https://l.example/4418')).status).toBe(201)
    const kinds = async (slug: string, destination: string) =>
      ((await make(slug, destination)).body.conflicts ?? []).map(({ kind }: Told) => kind)
    expect(await kinds('stop/44l7', 'https://x.example/')).toEqual(['look-alike'])
    expect(
      (
        await fides.call('viewer', 'POST', '/slugs/check', {
          domain: 'ansl.example',
          slug: 'faers',
          title: 'Fares and tickets',
          destination: 'https://x.example/',
        })
      ).body,
    ).toMatchObject({
      state: 'free',
      similar: [{ address: 'ansl.example/fares', how: 'one-slip' }],
      spoken: 'Foxtrot Alfa Echo Romeo Sierra',
      suggestions: expect.arrayContaining([{ slug: 'tickets', score: expect.any(Number) }]),
      random: expect.stringMatching(/^[a-hjkmnp-z2-9]{7}$/),
    })
  })
})

describe('remedies', () => {
  it('rename with forwarding: verified, applied, settled by whoever did, and undone', async () => {
    const found = await read(await caseOf('one-slip', 'fare'))
    const rename = remedy(found, 'Rename')
    expect(rename).toMatchObject({
      verified: expect.stringContaining('Tried on the register'),
      asks: ['slug'],
      applies: true,
    })
    expect((await apply(found, rename, { slug: 'bad slug' })).status).toBe(422)
    expect((await apply(found, rename, { slug: 'single' })).body.sentence).toContain('goes on forwarding')
    await until(
      'forwarding',
      async () =>
        (await location('ansl.example/single')) === 'https://fare.example/other' &&
        (await location('ansl.example/fare')) === 'https://fare.example/other',
      2000,
    )
    expect(await caseOf('one-slip', 'fare', 'settled')).toMatchObject({ settledBy: 'administrator' })
  })

  it('merge twins; what was merged can be given back', async () => {
    // Twins are a remark: they harm nobody, and need no reason.
    const twin = await make('tickets', 'https://fares.example/?utm_source=leaflet')
    expect(twin.status).toBe(201)
    const found = await read(await caseOf('twins', 'fares.example'))
    expect(found.remark).toBe(true)
    expect((await apply(found, remedy(found, 'Merge'))).status).toBe(200)
    await until('merged', async () => (await location('ansl.example/tickets')) === 'https://fares.example/', 2000)
    expect((await fides.call('viewer', 'GET', '/links?q=ansl.example/tickets')).body.items).toMatchObject([
      { slug: 'fares', aliases: [{ slug: 'tickets' }] },
    ])
    const entry = (await fides.call('administrator', 'GET', '/ledger?q=ansl.example/tickets')).body.items.find(
      ({ action }: Told) => action === 'merge',
    )
    expect((await fides.call('administrator', 'POST', `/ledger/${entry.id}/undo`, {})).status).toBe(201)
    await until(
      'given back',
      async () => (await location('ansl.example/tickets')) === 'https://fares.example/?utm_source=leaflet',
      2000,
    )
    expect((await caseOf('twins', 'fares.example')).state).toBe('open')
  })

  it('point a chain straight at its end', async () => {
    expect((await make('through', 'https://ansl.example/stop/4418')).status).toBe(201)
    const found = await read(await caseOf('chain', 'through'))
    expect((await apply(found, remedy(found, 'Point to the final page'), { reason: 'the twin is known' })).status).toBe(
      200,
    )
    await until('straight', async () => (await location('ansl.example/through')) === 'https://l.example/4418', 2000)
  })

  it('move a hidden rule up, narrow a rule, keep with a reason that is needed', async () => {
    const rule = (pattern: string, destination: string) =>
      fides.call('administrator', 'POST', '/rules', { domain: 'ansl.example', pattern, destination, reason: 'a test' })
    const first = (await rule('/doc/*', 'https://docs.example/{+0}')).body
    const second = (await rule('/doc/:n(\\d+)', 'https://numbers.example/{n}')).body
    await fides.call(
      'administrator',
      'PATCH',
      `/rules/${second.id}`,
      { destination: 'https://numbers.example/no/{n}' },
      { 'if-match': '"1"' },
    )
    const hidden = await read(await caseOf('hidden', '/doc/:n'))
    expect(remedy(hidden, 'Move it up').verified).toContain('this conflict goes')
    expect((await apply(hidden, remedy(hidden, 'Move it up'))).status).toBe(200)
    await until('moved', async () => (await location('ansl.example/doc/7')) === 'https://numbers.example/no/7', 2000)

    const member = (await make('doc/about', 'https://about.example/', { reason: 'a page of its own' })).body
    await reopen(member, 'https://about.example/us')
    const family = await read(await caseOf('hidden', '/doc/*'))
    expect((await apply(family, remedy(family, 'Exclude this link'))).status).toBe(200)
    expect((await fides.call('viewer', 'GET', `/rules/${first.id}`)).body.except).toEqual(['doc/about'])

    const twins = await read(await caseOf('twins', 'fares.example'))
    const keep = remedy(twins, 'Accept as is')
    expect((await apply(twins, keep)).body.errors).toMatchObject([{ pointer: '/reason' }])
    expect((await apply(twins, keep, { reason: 'counted apart' })).status).toBe(200)
    const [entry] = (await fides.call('administrator', 'GET', '/ledger?kind=case')).body.items
    expect(entry).toMatchObject({ action: 'keep', undoable: true })
    expect((await fides.call('administrator', 'POST', `/ledger/${entry.id}/undo`, {})).status).toBe(201)
    expect((await caseOf('twins', 'fares.example')).state).toBe('open')
  })
})

describe('a full scan', () => {
  it('is asked for, tells its progress, and finds what the watch holds', async () => {
    const asked = await fides.call('editor', 'POST', '/conflicts/scan')
    expect(asked).toMatchObject({ status: 201, body: { state: expect.stringMatching(/queued|running/) } })
    const done = await until('the scan is done', async () => {
      const { body } = await fides.call('viewer', 'GET', `/conflicts/scan/${asked.body.id}`)
      return body.state === 'done' ? body : undefined
    })
    expect(done.total).toBe(await fides.db.Link.count())
    const survey = await readSurvey(fides.db)
    survey.scanAll()
    expect(Object.values(done.found as Record<string, number>).reduce((sum, count) => sum + count, 0)).toBe(survey.size)
    expect((await fides.call('viewer', 'GET', '/conflicts/scan')).body.scan.id).toBe(asked.body.id)
    expect((await fides.call('viewer', 'POST', '/conflicts/scan')).status).toBe(403)
  })

  it('whose worker was killed is taken up by the next, and one that was cancelled stays so', async () => {
    const before = (await cases()).map(({ id }) => id)
    const lapsed = { leasedUntil: new Date(0), resumeState: 'queued', askedBy: 'editor', askedAt: new Date() }
    const row = await fides.db.ConflictScan.create({ ...lapsed, state: 'running' })
    const cancelled = await fides.db.ConflictScan.create({ askedBy: 'editor', askedAt: new Date(), state: 'cancelled' })
    await until(
      'the worker does it',
      async () => (await fides.call('viewer', 'GET', `/conflicts/scan/${row.id}`)).body.state === 'done',
    )
    expect((await fides.call('viewer', 'GET', `/conflicts/scan/${cancelled.id}`)).body.state).toBe('cancelled')
    expect((await cases()).map(({ id }) => id)).toEqual(before)
  })

  it('can be stopped', async () => {
    // Without a worker it waits, and stops at once.
    await fides.kill('worker')
    const { body } = await fides.call('editor', 'POST', '/conflicts/scan')
    expect((await fides.call('editor', 'DELETE', `/conflicts/scan/${body.id}`)).status).toBe(204)
    expect((await fides.call('viewer', 'GET', `/conflicts/scan/${body.id}`)).body.state).toBe('cancelled')
    fides.system.start('worker', ['dist/worker.mjs'], fides.environment)
  })
})

describe('two people at once', () => {
  it('never end in a state that a full scan calls one address', async () => {
    const slugs = ['Race', 'race', 'RACE/', 'rAce', 'race-2', 'Race-2']
    const domains = ['go.example']
    const work = async (who: 'editor' | 'administrator', seed: number) => {
      for (let step = 0; step < 14; step++) {
        const pick = (seed * 7 + step * 5) % 10
        const slug = slugs[(seed + step) % slugs.length]!
        if (pick < 4)
          await fides.call(who, 'POST', '/links', {
            domain: domains[0],
            slug,
            destination: `https://${seed}-${step}.example/`,
            reason: 'race',
          })
        else if (pick < 6) {
          const [link] = (await fides.call(who, 'GET', '/links?domain=go.example&limit=1&sort=changed')).body
            .items as Told[]
          if (link)
            await fides.call(
              who,
              'PATCH',
              `/links/${link.id}`,
              { slug, reason: 'race' },
              { 'if-match': `"${link.version}"` },
            )
        } else if (pick < 7)
          await fides.call('administrator', 'POST', '/rules', {
            domain: domains[0],
            pattern: `/r${seed}-${step}/*`,
            destination: 'https://r.example/',
            reason: 'race',
          })
        else {
          const now = (await fides.call('administrator', 'GET', '/domains/2/slug-rules')).body
          const { capacity: _c, usualBlocked: _u, version, ...body } = now
          const next = { ...body, capitalsMatter: !body.capitalsMatter, reason: 'race' }
          const review = (await fides.call('administrator', 'PUT', '/domains/2/slug-rules?dryRun=1', next)).body
          const decisions = Object.fromEntries(
            (review.merging ?? []).flatMap(({ links }: Told) =>
              links.slice(1).map(({ id }: Told) => [id, { do: 'merge', into: links[0].id }]),
            ),
          )
          await fides.call(
            'administrator',
            'PUT',
            '/domains/2/slug-rules',
            { ...next, decisions, otherwise: 'keep' },
            { 'if-match': `"${version}"` },
          )
        }
      }
    }
    await Promise.all([work('editor', 1), work('administrator', 2), work('administrator', 3)])
    const survey = await readSurvey(fides.db)
    survey.scanAll()
    expect([...survey.conflicts].filter(({ kind }) => kind === 'same-address')).toEqual([])
    expect(await fides.db.Link.count({ where: { domainId: 2 } })).toBeGreaterThan(2)
    // The gateway holds exactly what the register does.
    const rows = await fides.db.Link.findAll({ where: { domainId: 2 } })
    for (const row of rows)
      if (row.canonical !== null)
        await until(
          `${row.slug} at the gateway`,
          async () => (await fides.visit(`go.example/${row.canonical}`)).status !== 404,
          5000,
        )
  })
})
