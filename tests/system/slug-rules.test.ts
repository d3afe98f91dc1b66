import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { TestFides, until, type Told } from './fides'

let fides: TestFides
beforeAll(async () => (fides = await TestFides.start()))
afterAll(() => fides.stop())

const GO = 2
const rules = async (id = GO) => (await fides.call('administrator', 'GET', `/domains/${id}/slug-rules`)).body
const bodyOf = ({ capacity: _capacity, usualBlocked: _usual, version: _version, ...rest }: Told) => rest
const dryRun = async (more: object) =>
  await fides.call('administrator', 'PUT', `/domains/${GO}/slug-rules?dryRun=1`, { ...bodyOf(await rules()), ...more })
const put = async (more: object) => {
  const now = await rules()
  return fides.call(
    'administrator',
    'PUT',
    `/domains/${GO}/slug-rules`,
    { ...bodyOf(now), ...more },
    { 'if-match': `"${now.version}"` },
  )
}
const location = async (address: string) => (await fides.visit(address)).location
const go = (slug: string, destination: string, more = {}) =>
  fides.link({ domain: 'go.example', slug, destination, ...more })
const rows = () => fides.db.Link.findAll({ where: { domainId: GO }, order: ['id'], raw: true })

describe('slug rules', () => {
  const links: Record<string, Told> = {}
  it('tell what other rules would break and merge, and change nothing', async () => {
    for (const slug of ['Jobs', 'jobs', 'Press', 'press', 'lost_found', 'Solo', 'Drive', 'drive'])
      links[slug] = await go(slug, `https://${slug.toLowerCase()}${/[A-Z]/.test(slug) ? '-capital' : ''}.example/`)
    await fides.call('editor', 'POST', `/links/${links.Jobs!.id}/placements`, { medium: 'Bus rear', copies: 20 })
    const before = await rows()
    const told = await dryRun({ capitalsMatter: false, separators: '-' })
    expect(told.status).toBe(200)
    expect(told.body.breaking).toMatchObject([
      { slug: 'lost_found', suggestion: 'lost-found', sentences: [expect.stringContaining('“_”')] },
    ])
    expect(told.body.merging.map(({ address }: Told) => address).sort()).toEqual([
      'go.example/drive',
      'go.example/jobs',
      'go.example/press',
    ])
    expect(
      told.body.merging
        .find(({ address }: Told) => address === 'go.example/jobs')
        .links.find(({ slug }: Told) => slug === 'Jobs'),
    ).toMatchObject({ placements: { count: 1, copies: 20, fixed: true }, visits28: 0 })
    expect(BigInt(told.body.capacity.addresses)).toBeGreaterThan(10n ** 30n)
    expect(await rows()).toEqual(before)
    expect(await dryRun({ minLength: 9, maxLength: 4 })).toMatchObject({
      status: 422,
      body: { errors: [{ pointer: '/maxLength' }, { pointer: '/randomLength' }] },
    })
  })

  it('take effect with every decision or not at all', async () => {
    const before = await rows()
    const some = {
      [links.Jobs!.id]: { do: 'rename', slug: 'job-fair' },
      [links.Press!.id]: { do: 'merge', into: links.press!.id },
    }
    const refused = await put({ capitalsMatter: false, separators: '-', decisions: some })
    expect(refused).toMatchObject({ status: 409, body: { title: 'Not settled', review: { mergingTotal: 3 } } })
    expect(refused.body.undecided.sort()).toEqual([links.drive!.id, links.Drive!.id, links.lost_found!.id].sort())
    for (const [decisions, told] of [
      [
        { ...some, [links.lost_found!.id]: { do: 'rename', slug: 'a_b' }, [links.Drive!.id]: { do: 'end' } },
        'breaks the new rules',
      ],
      [{ ...some, [links.lost_found!.id]: { do: 'rename', slug: 'PRESS' }, [links.Drive!.id]: { do: 'end' } }, 'taken'],
      [
        { ...some, [links.lost_found!.id]: { do: 'keep' }, [links.Drive!.id]: { do: 'merge', into: 9999 } },
        'no link 9999',
      ],
      [
        {
          ...some,
          [links.lost_found!.id]: { do: 'keep' },
          [links.Drive!.id]: { do: 'end' },
          [links.drive!.id]: { do: 'end' },
        },
        'must keep it',
      ],
    ] as const)
      expect((await put({ capitalsMatter: false, separators: '-', decisions })).body.detail).toContain(told)
    expect(await rows()).toEqual(before)

    const done = await put({
      capitalsMatter: false,
      separators: '-',
      reason: 'posters in capitals',
      decisions: {
        ...some,
        [links.lost_found!.id]: { do: 'rename', slug: 'lost-found' },
        [links.Drive!.id]: { do: 'end' },
      },
    })
    expect(done.status).toBe(200)
    await until(
      'read anew at the gateway',
      async () => (await location('go.example/JOBS')) === 'https://jobs.example/',
      3000,
    )
    expect(await location('go.example/job-fair')).toBe('https://jobs-capital.example/')
    expect(await location('go.example/Press')).toBe('https://press.example/')
    expect(await location('go.example/DRIVE')).toBe('https://drive.example/')
    expect(await location('go.example/lost_found')).toBe('https://lost_found.example/')
    expect(await location('go.example/lost-found')).toBe('https://lost_found.example/')
    expect(await location('go.example/solo')).toBe('https://solo-capital.example/')
    const press = (await fides.call('viewer', 'GET', `/links/${links.press!.id}`)).body
    expect(press.aliases).toMatchObject([{ slug: 'Press', same: true }])
    expect((await fides.call('viewer', 'GET', `/links/${links.Drive!.id}`)).body.standing).toBe('ended')
    expect(
      (
        await fides.change(
          {
            id: links.Drive!.id,
            version: (await fides.call('viewer', 'GET', `/links/${links.Drive!.id}`)).body.version,
          },
          { standing: 'live' },
        )
      ).status,
    ).toBe(409)
    expect(
      (await fides.call('viewer', 'GET', '/links?domain=go.example&sort=address&limit=200')).body.items.every(
        ({ forwardsTo }: Told) => forwardsTo === null,
      ),
    ).toBe(true)
  })

  it('can be undone from the ledger: merged addresses come apart again, and none is lost', async () => {
    const entry = (await fides.call('administrator', 'GET', '/ledger?kind=domain')).body.items.find(
      ({ action }: Told) => action === 'slug-rules',
    )
    const undone = await fides.call('administrator', 'POST', `/ledger/${entry.id}/undo`, {})
    expect(undone.status, JSON.stringify(undone.body)).toBe(201)
    expect((await rules()).capitalsMatter).toBe(true)
    // Press is an address of its own again, and goes on forwarding; Drive ended.
    await until('read anew', async () => (await fides.visit('go.example/JOBS')).status === 404, 3000)
    expect(await location('go.example/Press')).toBe('https://press.example/')
    expect((await fides.visit('go.example/Drive')).status).toBe(410)
    expect(await location('go.example/drive')).toBe('https://drive.example/')
    const merge = (await fides.call('administrator', 'GET', '/ledger?q=go.example/Press')).body.items.find(
      ({ action }: Told) => action === 'merge',
    )
    expect((await fides.call('administrator', 'POST', `/ledger/${merge.id}/undo`, {})).status).toBe(201)
    await until('apart', async () => (await location('go.example/Press')) === 'https://press-capital.example/', 2000)
  })

  it('refuse a link against them to an editor, and let an administrator make an exception with a reason', async () => {
    expect((await put({ reserved: ['admin'], decisions: {}, otherwise: 'keep' })).status).toBe(200)
    const body = { domain: 'go.example', slug: 'admin', destination: 'https://admin.example/' }
    expect((await fides.call('viewer', 'POST', '/slugs/check', body)).body).toMatchObject({
      state: 'refused',
      reasons: [expect.stringContaining('reserved')],
    })
    expect((await fides.call('editor', 'POST', '/links', { ...body, reason: 'please' })).status).toBe(422)
    expect((await fides.call('administrator', 'POST', '/links', body)).status).toBe(409)
    expect(
      (await fides.call('administrator', 'POST', '/links', { ...body, reason: 'the building is called so' })).body
        .exception,
    ).toBe(true)
  })

  it('decide random slugs', async () => {
    expect(
      (
        await put({
          alphabet: 'own',
          ownAlphabet: 'xyz',
          separators: '',
          randomLength: 12,
          prefixes: ['my'],
          otherwise: 'keep',
        })
      ).status,
    ).toBe(200)
    expect((await go(undefined as never, 'https://random.example/')).slug).toMatch(/^my\/[xyz]{9}$/)
  })
})

describe('renaming', () => {
  it(
    'leaves the old slug forwarding, shown under its link and found by search; undone, the new one ' + 'forwards',
    async () => {
      const link = await fides.link({ slug: 'old-name', destination: 'https://named.example/' })
      const renamed = await fides.change(link as never, { slug: 'new-name' })
      expect(renamed.body).toMatchObject({ slug: 'new-name', address: 'ansl.example/new-name' })
      await until(
        'both answer',
        async () =>
          (await location('ansl.example/new-name')) === 'https://named.example/' &&
          (await location('ansl.example/old-name')) === 'https://named.example/',
        2000,
      )
      const [found] = (await fides.call('viewer', 'GET', '/links?q=old-name')).body.items
      expect(found).toMatchObject({ id: link.id, slug: 'new-name', aliases: [{ slug: 'old-name', same: false }] })
      // A new destination counts for both at once.
      await fides.change(renamed.body as never, { destination: 'https://moved.example/' })
      await until(
        'moved for both',
        async () => (await location('ansl.example/old-name')) === 'https://moved.example/',
        2000,
      )
      expect(
        (await fides.call('viewer', 'POST', '/slugs/check', { domain: 'ansl.example', slug: 'OLD-NAME' })).body,
      ).toMatchObject({ state: 'taken', reasons: [expect.stringContaining('Forwards to')], link: { id: link.id } })
      const entry = (await fides.call('editor', 'GET', `/links/${link.id}/history`)).body.items.find(
        ({ action }: Told) => action === 'rename',
      )
      expect((await fides.call('editor', 'POST', `/ledger/${entry.id}/undo`, {})).status).toBe(201)
      expect((await fides.call('viewer', 'GET', `/links/${link.id}`)).body).toMatchObject({
        slug: 'old-name',
        aliases: [{ slug: 'new-name' }],
      })
      await until(
        'both still answer',
        async () =>
          (await location('ansl.example/new-name')) === 'https://moved.example/' &&
          (await location('ansl.example/old-name')) === 'https://moved.example/',
        2000,
      )
    },
  )

  it('without forwarding gives the old slug up, by word only', async () => {
    const link = await fides.link({ slug: 'typo-in-it', destination: 'https://typo.example/' })
    await fides.change(link as never, { slug: 'without-it', forward: false })
    await until('given up', async () => (await fides.visit('ansl.example/typo-in-it')).status === 404, 2000)
    const taken = await fides.change(
      (await fides.link({ slug: 'other-one', destination: 'https://other.example/' })) as never,
      { slug: 'WITHOUT-it' },
    )
    expect(taken).toMatchObject({ status: 409, body: { errors: [{ pointer: '/slug' }] } })
  })
})

describe('forgiveness', () => {
  it('mends what it is on for, tells what it would have done, and the ledger says what came of it', async () => {
    await fides.link({ slug: 'tariff', destination: 'https://tariff.example/', status: 301 })
    await until('live', async () => (await fides.visit('ansl.example/tariff')).status === 301, 2000)
    for (const path of ['Tariff).', 'Tariff).', 'tar1ff', 'nothing-like-it'])
      expect((await fides.visit(`ansl.example/${path}`)).status).toBe(404)
    const report = await until('the misses are stored', async () => {
      const { body } = await fides.call('viewer', 'GET', '/domains/1/forgiveness')
      return body.missed >= 4 ? body : undefined
    })
    expect(report.parts).toMatchObject([
      { part: 'punctuation', on: false, would: 2, ambiguous: 0, did: 0 },
      { part: 'capitals', would: 0 },
      { part: 'look-alikes', would: 1 },
    ])
    const domain = (await fides.call('viewer', 'GET', '/domains/1')).body
    expect(
      (
        await fides.call(
          'administrator',
          'PATCH',
          '/domains/1',
          { mendPunctuation: true, reason: 'addresses in e-mails' },
          { 'if-match': `"${domain.version}"` },
        )
      ).status,
    ).toBe(200)
    const mended = await until(
      'mended',
      async () => {
        const answer = await fides.visit('ansl.example/Tariff).')
        return answer.status === 302 ? answer : undefined
      },
      2000,
    )
    expect(mended).toMatchObject({ location: 'https://tariff.example/', headers: { 'cache-control': 'no-store' } })
    expect((await fides.visit('ansl.example/tar1ff')).status).toBe(404)
    const since = await until('the ledger says so', async () => {
      const entry = (await fides.call('administrator', 'GET', '/ledger?kind=domain')).body.items.find(
        ({ after }: Told) => after?.mendPunctuation === true,
      )
      return /has corrected \d/.test(entry?.since ?? '') && entry.since
    })
    expect(since).toContain('ansl.example/tariff).')
    expect((await fides.call('viewer', 'GET', '/domains/1/forgiveness')).body.parts[0]).toMatchObject({
      on: true,
      did: expect.any(Number),
    })
    expect((await fides.call('viewer', 'POST', '/trace', { address: 'ansl.example/TARIFF).' })).body).toMatchObject({
      mended: 'punctuation',
      status: 302,
    })
  })
})
