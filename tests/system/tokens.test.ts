import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { PASSWORD, TestFides, type Who } from './fides'

let fides: TestFides
beforeAll(async () => (fides = await TestFides.start()))
afterAll(() => fides.stop())

const NEW_PASSWORD = 'ferry otter umbrella nine'

describe('a token', () => {
  const with_ = (secret: string, method: string, path: string, body?: unknown, more: Record<string, string> = {}) =>
    fides.call('stranger', method, path, body, { authorization: `Bearer ${secret}`, ...more })

  it('makes, lists and confirms no other doors', async () => {
    const { body } = await fides.call('administrator', 'POST', '/tokens', { name: 'All', scope: 'administer' })
    for (const [method, path, sent] of [
      ['POST', '/tokens', { name: 'Child', scope: 'read' }],
      ['POST', '/members', { email: 'x@port.test', name: 'X', role: 'administrator' }],
      ['GET', '/account', undefined],
      ['POST', '/account/password', { present: PASSWORD, password: NEW_PASSWORD }],
      ['POST', '/session/confirm', { password: PASSWORD }],
    ] as const)
      expect((await with_(body.secret, method, path, sent)).status, path).toBe(403)
    expect((await with_(body.secret, 'GET', '/members')).status).toBe(200)
  })

  it('ends in the future, and within two years', async () => {
    for (const ms of [-60_000, 800 * 86_400_000]) {
      const expiresAt = new Date(Date.now() + ms).toISOString()
      const { body } = await fides.call('editor', 'POST', '/tokens', { name: 'When', scope: 'read', expiresAt })
      expect(body.errors[0].pointer).toBe('/expiresAt')
    }
  })

  it('limited to a domain sees and changes links of it, and nothing else', async () => {
    const [inside, outside] = [
      await fides.link({ slug: 'in' }),
      await fides.link({ slug: 'out', domain: 'go.example' }),
    ]
    const { body } = await fides.call('editor', 'POST', '/tokens', {
      name: 'One domain',
      scope: 'write',
      domains: ['ansl.example'],
    })
    const secret = body.secret
    expect((await with_(secret, 'GET', `/links/${inside.id}`)).status).toBe(200)
    expect((await with_(secret, 'GET', `/links/${outside.id}`)).status).toBe(404)
    expect((await with_(secret, 'GET', '/links?domain=ansl.example')).status).toBe(200)
    expect((await with_(secret, 'GET', '/links?domain=go.example')).status).toBe(403)
    for (const path of ['/links', '/ledger', '/domains', '/cases', '/misses', '/links/counts', '/tags'])
      expect((await with_(secret, 'GET', path)).status, path).toBe(403)
    const past = (address: string) => `/table?address=${address}&at=2026-11-01T08:00:00Z`
    expect((await with_(secret, 'GET', past('ansl.example/in'))).status).toBe(200)
    expect((await with_(secret, 'GET', past('go.example/out'))).status).toBe(403)
    const link = { slug: 'more', destination: 'https://www.example/page', reason: 'x' }
    expect((await with_(secret, 'POST', '/links', { ...link, domain: 'go.example' })).status).toBe(403)
    expect((await with_(secret, 'POST', '/links', { ...link, domain: 'ansl.example' })).status).toBe(201)
    const etag = { 'if-match': `"${inside.version}"` }
    expect((await with_(secret, 'PATCH', `/links/${inside.id}`, { title: 'T', reason: 'x' }, etag)).status).toBe(200)
    expect(
      (await fides.call('editor', 'POST', '/tokens', { name: 'No', scope: 'read', domains: ['no.example'] })).body
        .errors[0].pointer,
    ).toBe('/domains')
  })

  it('is seen and revoked by administrators, and ends with its member', async () => {
    const { body: token } = await fides.call('editor', 'POST', '/tokens', { name: 'Left behind', scope: 'read' })
    const { body: all } = await fides.call('administrator', 'GET', '/tokens/all')
    expect(all.items.find(({ id }: { id: number }) => id === token.id)).toMatchObject({ member: 'editor' })
    expect((await fides.call('editor', 'GET', '/tokens/all')).status).toBe(403)
    expect((await fides.call('administrator', 'DELETE', `/tokens/${token.id}`)).status).toBe(204)
    expect((await with_(token.secret, 'GET', '/links')).status).toBe(401)
  })
})

describe('what others did', () => {
  it('is told to viewers and editors only where they could see it elsewhere', async () => {
    await fides.call('administrator', 'POST', '/members', { name: 'New', email: 'new@port.test', role: 'viewer' })
    const kinds = async (who: Who) =>
      new Set(
        (await fides.call(who, 'GET', '/ledger?limit=200')).body.items.map(
          ({ subject }: { subject: { kind: string } }) => subject.kind,
        ),
      )
    expect([...(await kinds('administrator'))]).toEqual(expect.arrayContaining(['member', 'token', 'link']))
    for (const who of ['editor'] as const) {
      expect([...(await kinds(who))]).not.toEqual(expect.arrayContaining(['member']))
      expect([...(await kinds(who))]).not.toEqual(expect.arrayContaining(['token']))
      expect((await fides.call(who, 'GET', '/ledger?kind=member')).body.items).toEqual([])
    }
  })
})
