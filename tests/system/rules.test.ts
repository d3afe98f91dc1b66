import { QueryTypes } from 'sequelize'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { TestFides, until, type Told } from './fides'

let fides: TestFides
beforeAll(async () => (fides = await TestFides.start()))
afterAll(() => fides.stop())

const post = (path: string, body: object) => fides.call('administrator', 'POST', path, body)
async function makeRule(more: Record<string, unknown> = {}): Promise<Told> {
  const made = await post('/rules', {
    domain: 'ansl.example',
    pattern: '/stop/:id',
    destination: 'https://live.example/{id}',
    ...more,
  })
  if (made.status !== 201) throw new Error(JSON.stringify(made.body))
  return made.body
}
const patch = (rule: Told, body: object, version = rule.version) =>
  fides.call('administrator', 'PATCH', `/rules/${rule.id}`, body, { 'if-match': `"${version}"` })
const order = async () =>
  (await fides.call('viewer', 'GET', '/rules?domain=ansl.example')).body.items.map((rule: Told) => rule.id) as number[]
const location = async (address: string) => (await fides.visit(address)).location

describe('rules', () => {
  let first: Told
  it('answer at the gateway soon after they are made, after exact links, and count their hits', async () => {
    await fides.link({ slug: 'stop/1', destination: 'https://link.example/' })
    first = await makeRule({ reason: 'new stops work at once' })
    await until(
      'the rule is live',
      async () => (await location('ansl.example/stop/7012')) === 'https://live.example/7012',
      2000,
    )
    expect(await location('ansl.example/stop/1')).toBe('https://link.example/')
    await until(
      'the hit is counted',
      async () =>
        Number(
          (
            await fides.db.sequelize.query<{ hits: number }>(
              'SELECT SUM(visits) AS hits FROM rule_day WHERE rule_id = ?',
              { replacements: [first.id], type: QueryTypes.SELECT },
            )
          )[0]?.hits,
        ) > 0,
    )
  })

  it('are refused with a sentence at the field', async () => {
    for (const [more, pointer] of [
      [{ pattern: 'stop' }, '/pattern'],
      [{ pattern: '/a(' }, '/pattern'],
      [{ syntax: 'expression', pattern: '/(a|b)*a(a|b){20}' }, '/pattern'],
      [{ syntax: 'expression', pattern: '/(?=x)' }, '/pattern'],
      [{ pattern: '/..' }, '/pattern'],
      [{ destination: 'https://{id}/' }, '/destination'],
      [{ destination: 'https://l.example/{other}' }, '/destination'],
      [{ destination: 'javascript:alert({id})' }, '/destination'],
      [{ condition: [{ kind: 'query', mode: 'contains', text: 'a?b' }] }, '/condition/0/text'],
      [{ status: 200 }, '/status'],
      [{ domain: 'nobody.example' }, '/domain'],
    ] as const) {
      const refused = await post('/rules', {
        domain: 'ansl.example',
        pattern: '/x/:id',
        destination: 'https://live.example/',
        ...more,
      })
      expect([refused.status, refused.body.errors[0].pointer], JSON.stringify(more)).toEqual([422, pointer])
    }
    expect(await order()).toEqual([first.id])
  })

  it('that would be in conflict say so first, with a witness the gateway answers, and pass with a reason', async () => {
    const hidden = { domain: 'ansl.example', pattern: '/stop/:id(\\d+)', destination: 'https://numbers.example/{id}' }
    const refused = await post('/rules', hidden)
    expect(refused).toMatchObject({
      status: 409,
      body: {
        title: 'Would be in conflict',
        conflicts: [{ kind: 'hidden', headline: 'Rule never applies' }],
        errors: [{ pointer: '/reason' }],
      },
    })
    expect(refused.body.conflicts[0].witness).toMatch(/^ansl\.example\/stop\/\d$/)
    expect(await location(refused.body.conflicts[0].witness)).toMatch(/^https:\/\/live\.example\//)
    expect(await order()).toEqual([first.id])
    const made = await post('/rules', { ...hidden, reason: 'kept for later' })
    expect(made.status).toBe(201)
    const kept = (await fides.call('viewer', 'GET', '/cases?lane=conflicts&state=settled')).body.items.find(
      (item: Told) => item.rules.includes(made.body.id),
    )
    expect(kept).toMatchObject({ kind: 'hidden', kept: true, reason: 'kept for later', settledBy: 'administrator' })

    // Moved up it takes its addresses; nothing is hidden any more.
    const moved = await post('/rules/reorder', {
      domain: 'ansl.example',
      order: [made.body.id, first.id],
      was: [first.id, made.body.id],
      reason: 'numbers lead elsewhere',
    })
    expect(moved.status).toBe(200)
    await until(
      'the order is live',
      async () => (await location('ansl.example/stop/7')) === 'https://numbers.example/7',
      2000,
    )
    // One who started from the old order is told, and nothing is changed.
    const late = await post('/rules/reorder', {
      domain: 'ansl.example',
      order: [first.id, made.body.id],
      was: [first.id, made.body.id],
    })
    expect(late).toMatchObject({ status: 412, body: { order: [made.body.id, first.id] } })
    expect(
      (await post('/rules/reorder', { domain: 'ansl.example', order: [first.id], was: [made.body.id, first.id] }))
        .status,
    ).toBe(422)
    const history = (await fides.call('administrator', 'GET', '/ledger?kind=rule')).body.items
    expect(history[0]).toMatchObject({ action: 'move', subject: { kind: 'rule' } })
    expect((await post(`/ledger/${history[0].id}/undo`, {})).status).toBe(201)
    expect(await order()).toEqual([first.id, made.body.id])
  })

  it('are saved over nobody’s later change, switched off and on, removed and given back', async () => {
    const rule = await makeRule({ pattern: '/docs/*', destination: 'https://docs.example/{+0}' })
    const changed = await patch(rule, { note: 'mine' })
    expect(changed.body).toMatchObject({ note: 'mine', version: 2, captures: ['0'] })
    expect(await patch(rule, { note: 'theirs' })).toMatchObject({ status: 412, body: { current: { note: 'mine' } } })
    expect((await patch(rule, { active: false }, 2)).status).toBe(200)
    await until('it is off', async () => (await fides.visit('ansl.example/docs/a')).status === 404, 2000)
    expect((await patch(rule, { active: true }, 3)).status).toBe(200)
    await until('it is on', async () => (await location('ansl.example/docs/a/b')) === 'https://docs.example/a/b', 2000)
    expect(
      (await fides.call('administrator', 'DELETE', `/rules/${rule.id}`, undefined, { 'if-match': '"4"' })).status,
    ).toBe(204)
    await until('it is gone', async () => (await fides.visit('ansl.example/docs/a')).status === 404, 2000)
    const [removed] = (await fides.call('administrator', 'GET', '/ledger?kind=rule')).body.items
    expect(removed).toMatchObject({ action: 'remove', undoable: true })
    expect((await post(`/ledger/${removed.id}/undo`, {})).status).toBe(201)
    await until('it is back', async () => (await location('ansl.example/docs/a')) === 'https://docs.example/a', 2000)
    expect((await fides.call('viewer', 'GET', `/rules/${rule.id}`)).body).toMatchObject({
      pattern: '/docs/*',
      note: 'mine',
    })
  })

  it('survive without the database, from the snapshot', async () => {
    await until('the snapshot is written', async () => (await fides.visit('ansl.example/docs/x')).status === 302)
    await fides.stopGateway()
    await fides.startGateway()
    expect(await location('ansl.example/docs/x')).toBe('https://docs.example/x')
  })

  it('do not lead in a circle', async () => {
    const looping = await post('/rules', {
      domain: 'ansl.example',
      pattern: '/round/:x',
      destination: 'https://ansl.example/round/{x}',
      reason: 'whatever',
    })
    expect(looping).toMatchObject({
      status: 422,
      body: { title: 'Redirect loop', errors: [{ pointer: '/destination' }] },
    })
    await makeRule({ pattern: '/there/:x', destination: 'https://go.example/back/{x}', reason: 'go.example is next' })
    expect(
      (
        await fides.call('editor', 'POST', '/links', {
          domain: 'go.example',
          slug: 'back/a',
          destination: 'https://ansl.example/there/a',
          reason: 'whatever',
        })
      ).status,
    ).toBe(422)
  })
})

describe('patterns', () => {
  it('are compared, with a proof either way', async () => {
    const compare = async (a: string, b: string, syntax = 'path') =>
      (await fides.call('viewer', 'POST', '/patterns/compare', { a, b, syntax })).body
    expect(await compare('/stop/:id', '/stop/*')).toMatchObject({
      relation: 'b-covers-a',
      witness: '/stop/a',
      onlyA: null,
      onlyB: '/stop',
    })
    expect(await compare('/a/:x', '/b/:x')).toMatchObject({ relation: 'disjoint', witness: null })
    expect(await compare('/(a+)+$', '/a+', 'expression')).toMatchObject({ relation: 'equal' })
    expect(await compare('/*.pdf', '/docs/*')).toMatchObject({ relation: 'overlap' })
    expect(await fides.call('viewer', 'POST', '/patterns/compare', { a: '/a', b: '/(', syntax: 'path' })).toMatchObject(
      { status: 422, body: { errors: [{ pointer: '/b' }] } },
    )
    expect(
      await fides.call('viewer', 'POST', '/patterns/compare', {
        a: '/(a|b)*a(a|b){20}',
        b: '/x',
        syntax: 'expression',
      }),
    ).toMatchObject({ status: 422, body: { errors: [{ pointer: '/a' }] } })
  })

  it('are tested as the trace computes it, drafts among them', async () => {
    const told = (
      await fides.call('viewer', 'POST', '/patterns/test', {
        domain: 'ansl.example',
        rules: [
          { pattern: '/(', destination: 'https://a.example/' },
          { pattern: '/draft/:x', destination: 'https://draft.example/{x}' },
        ],
        addresses: ['/draft/1', 'ansl.example/stop/1', '/none', 'elsewhere.example/x', '/' + 'a'.repeat(8500)],
      })
    ).body
    expect(told.faults).toMatchObject([{ rule: 1, sentence: expect.stringContaining('not closed') }])
    expect(told.items).toMatchObject([
      { by: 'rule', rule: 2, status: 302, location: 'https://draft.example/1' },
      { by: 'link', link: 'ansl.example/stop/1', location: 'https://link.example/' },
      { by: 'none', status: 404 },
      { status: 0, sentence: expect.stringContaining('ansl.example') },
      { status: 414 },
    ])
    expect(
      (
        await fides.call('viewer', 'POST', '/patterns/test', {
          rules: [{ pattern: '/q/:x', destination: 'https://q.example/{x}' }],
          addresses: ['go.example/q/7'],
        })
      ).body.items,
    ).toMatchObject([{ by: 'rule', location: 'https://q.example/7' }])
    const rules = [
      { pattern: '/l', destination: 'https://pt.example/', condition: [{ kind: 'language', languages: ['pt'] }] },
    ]
    for (const [acceptLanguage, status] of [
      ['pt-BR, en;q=0.5', 302],
      ['en', 404],
    ] as const)
      expect(
        (await fides.call('viewer', 'POST', '/patterns/test', { rules, addresses: ['/l'], acceptLanguage })).body.items,
      ).toMatchObject([{ status }])
    const traced = (await fides.call('viewer', 'POST', '/trace', { address: 'ansl.example/docs/a' })).body
    expect(traced).toMatchObject({ status: 302, location: 'https://docs.example/a', ruleId: expect.any(Number) })
  })
})
