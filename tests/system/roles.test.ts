import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { mayAct, type Role } from '../../core/schemas'
import type { Operation } from '../../server/contract/operation'
import { operations } from '../../server/contract/operations'
import { TestFides, until, type Told, type Who } from './fides'

let fides: TestFides
let linkId: number
beforeAll(async () => {
  fides = await TestFides.start()
  linkId = (await fides.link({ slug: 'walked' })).id
})
afterAll(() => fides.stop())

const EVERYONE: Who[] = ['stranger', 'viewer', 'editor', 'administrator']
const allowed = (who: Who, operation: Operation) =>
  operation.role === 'stranger' || (who !== 'stranger' && mayAct(who as Role, operation.role))

describe('every route, as everyone', () => {
  // What is allowed gets past the door: it may then be refused for its empty body, but not with 401 or 403.
  for (const [name, operation] of Object.entries(operations) as [string, Operation][]) {
    // These are asked in tests of their own: they end the session, or take one that waits for a second factor.
    if (['signOut', 'giveFactor', 'askPasskey', 'confirm', 'readOneTime', 'choosePassword'].includes(name)) continue
    // It never ends: tests/system/traffic.test.ts follows it.
    if (name === 'followTraffic') continue
    for (const who of EVERYONE) {
      it(`${operation.method} ${operation.path} as ${who}`, async () => {
        const path = operation.path
          .replace('{id}', String(operation.path.startsWith('/links') ? linkId : 999_999))
          .replace('{remedy}', 'keep')
        const { status, body } = await fides.call(
          who,
          operation.method,
          path,
          operation.text ? 'x' : operation.body ? {} : undefined,
          { 'if-match': '"999"', ...(operation.text && { 'content-type': operation.text.types[0]! }) },
        )
        if (allowed(who, operation)) {
          expect([401, 403]).not.toContain(status)
          expect(status).not.toBe(500)
        } else {
          expect(status).toBe(who === 'stranger' ? 401 : 403)
          expect(body).toMatchObject({ title: expect.any(String), status })
        }
      })
    }
  }
})

describe('tokens', () => {
  const withToken = (secret: string, method: string, path: string, body?: unknown) =>
    fides.call('stranger', method, path, body, { authorization: `Bearer ${secret}` })

  it('lend at most their scope and their member’s role, until revoked', async () => {
    const { body: token } = await fides.call('editor', 'POST', '/tokens', { name: 'Script', scope: 'read' })
    expect(token.secret).toMatch(/^fides_/)
    expect((await withToken(token.secret, 'GET', '/links')).status).toBe(200)
    expect((await withToken(token.secret, 'POST', '/links', {})).status).toBe(403)
    const listed = await fides.call('editor', 'GET', '/tokens')
    expect(JSON.stringify(listed.body)).not.toContain(token.secret)
    expect(JSON.stringify(await fides.db.ApiToken.findAll())).not.toContain(token.secret)
    expect((await fides.call('viewer', 'DELETE', `/tokens/${token.id}`)).status).toBe(404)
    expect((await fides.call('editor', 'DELETE', `/tokens/${token.id}`)).status).toBe(204)
    expect((await withToken(token.secret, 'GET', '/links')).status).toBe(401)
    expect((await fides.call('viewer', 'POST', '/tokens', { name: 'Too much', scope: 'write' })).status).toBe(422)
  })
  it('are refused when invented or expired', async () => {
    const { body: token } = await fides.call('viewer', 'POST', '/tokens', {
      name: 'Old',
      scope: 'read',
      expiresAt: new Date(Date.now() + 60_000).toISOString(),
    })
    expect((await withToken(token.secret, 'GET', '/links')).status).toBe(200)
    await fides.db.ApiToken.update({ expiresAt: new Date(Date.now() - 1000) }, { where: { id: token.id } })
    expect((await withToken(token.secret, 'GET', '/links')).status).toBe(401)
    expect((await withToken('fides_invented', 'GET', '/links')).status).toBe(401)
  })
})

describe('sessions', () => {
  it('give one sentence for a wrong password and an unknown address', async () => {
    const wrong = await fides.call('stranger', 'POST', '/session', {
      email: 'viewer@port.test',
      password: 'wrong password',
    })
    const unknown = await fides.call('stranger', 'POST', '/session', {
      email: 'nobody@port.test',
      password: 'wrong password',
    })
    expect([wrong.status, unknown.status]).toEqual([401, 401])
    expect(wrong.body.detail).toBe(unknown.body.detail)
  })
  it('wait after ten failures', async () => {
    for (let tries = 0; tries < 10; tries++)
      await fides.call('stranger', 'POST', '/session', { email: 'target@port.test', password: 'x' })
    expect(
      (await fides.call('stranger', 'POST', '/session', { email: 'target@port.test', password: 'x' })).status,
    ).toBe(429)
  })
  it('end when the member is switched off, and keep the last administrator', async () => {
    const { body: members } = await fides.call('administrator', 'GET', '/members')
    const of = (role: string) => members.items.find((member: { role: string }) => member.role === role)
    const patch = (member: { id: number; version: number }, body: object) =>
      fides.call('administrator', 'PATCH', `/members/${member.id}`, body, { 'if-match': `"${member.version}"` })
    expect((await patch(of('administrator'), { role: 'viewer' })).status).toBe(409)
    expect((await patch(of('viewer'), { active: false })).status).toBe(200)
    expect((await fides.call('viewer', 'GET', '/links')).status).toBe(401)
  })
  it('refuse a change asked for by another site', async () => {
    const made = await fides.call(
      'editor',
      'POST',
      '/links',
      { domain: 'ansl.example', destination: 'https://www.example/' },
      { 'sec-fetch-site': 'cross-site' },
    )
    expect(made.status).toBe(403)
  })
  it.each(['Basic dTpw', 'Bearer', 'Bearer a b', 'Bearer a,b', 'bearer "a"', 'Negotiate x'])(
    'refuse “Authorization: %s” whatever cookie is beside it, and from wherever it comes',
    async (authorization) => {
      // RFC 6750 §2.1 and §3.1: a token is one word of these characters; whatever else is no token.
      for (const [method, path, body] of [
        ['POST', '/trace', { address: 'ansl.example/x' }],
        ['DELETE', '/session', undefined],
        ['GET', '/links', undefined],
      ] as const) {
        const foreign = { authorization, origin: 'https://evil.example', 'sec-fetch-site': 'cross-site' }
        expect((await fides.call('editor', method, path, body, foreign)).status, `${method} ${path}`).toBe(401)
      }
      // The session itself goes on.
      expect((await fides.call('editor', 'GET', '/links?limit=1')).status).toBe(200)
    },
  )
  it.each([
    ['GET', '/nothing-here', 404, null],
    ['POST', '/weave', 404, null],
    ['GET', '/links/1/2/3/4', 404, null],
    ['DELETE', '/links/1', 405, 'GET, HEAD, PATCH'],
    ['PUT', '/links', 405, 'GET, HEAD, POST'],
    ['GET', '/../v2/links', 404, null],
  ])('answer %s %s with %i as problem details, never with the desk’s page', async (method, path, status, allow) => {
    // RFC 9110 §15.5.5 and §15.5.6; RFC 9457.
    const answer = await fides.call('administrator', method, path)
    expect(answer.status).toBe(status)
    expect(answer.headers.get('content-type')).toContain('application/problem+json')
    expect(answer.headers.get('allow')?.split(', ').sort().join(', ') ?? null).toBe(allow)
    expect(answer.body.title).toBe(status === 404 ? 'Not found' : 'Not this method')
  })
  it('let no cookie count beside a token that is none', async () => {
    const headers = { authorization: 'Bearer fides_nobody' }
    expect((await fides.call('administrator', 'GET', '/links', undefined, headers)).status).toBe(401)
  })
  it('refuse what is not JSON, too large or not there', async () => {
    const send = (body: string, type: string) =>
      fetch(`${fides.system.adminAddress}/api/v1/session`, {
        method: 'POST',
        headers: { 'content-type': type, 'sec-fetch-site': 'same-origin' },
        body,
      })
    expect((await send('a=b', 'application/x-www-form-urlencoded')).status).toBe(415)
    expect((await send('{', 'application/json')).status).toBe(400)
    expect((await send(JSON.stringify({ email: 'x'.repeat(1_100_000) }), 'application/json')).status).toBe(413)
    expect((await fides.call('editor', 'GET', '/links/abc')).status).toBe(404)
    expect((await fides.call('editor', 'GET', '/links/99999')).status).toBe(404)
  })
})

describe('domains', () => {
  it('are added once, by their canonical name, and closed or opened', async () => {
    const added = await fides.call('administrator', 'POST', '/domains', { host: 'Bücher.Example' })
    expect(added.body).toMatchObject({ host: 'xn--bcher-kva.example', shown: 'bücher.example', standing: 'not-proved' })
    expect((await fides.call('administrator', 'POST', '/domains', { host: 'xn--bcher-kva.example' })).status).toBe(409)
    for (const host of ['localhost', '192.0.2.1', 'a_b.example', 'https://', 'a..b']) {
      expect((await fides.call('administrator', 'POST', '/domains', { host })).body.errors?.[0]?.pointer).toBe('/host')
    }
    const changed = await fides.call(
      'administrator',
      'PATCH',
      `/domains/${added.body.id}`,
      { permanenceSeconds: 60, registrar: 'Harbour Names', yearlyPrice: 24.5 },
      { 'if-match': '"1"' },
    )
    expect(changed.body).toMatchObject({ standing: 'not-proved', permanenceSeconds: 60, yearlyPrice: 24.5, version: 2 })
    expect(
      (
        await fides.call(
          'administrator',
          'PATCH',
          `/domains/${added.body.id}`,
          { standing: 'open' },
          { 'if-match': '"2"' },
        )
      ).body.detail,
    ).toContain('to open one, use')
  })
  it('can be read whole where the installation knows no outside world', async () => {
    // A domain just added is looked at once, soon; after that nothing moves.
    const body = await until('every domain was looked at', async () => {
      const { body } = await fides.call('editor', 'GET', '/domains')
      return body.items.every(({ lookedAt }: Told) => lookedAt !== null) && body
    })
    for (const item of body.items) expect((await fides.call('editor', 'GET', `/domains/${item.id}`)).body).toEqual(item)
    for (const path of ['', '/plan', '/observations', '/forecast', '/certificate'])
      expect((await fides.call('editor', 'GET', `/domains/${body.items[0].id}${path}`)).status, path).toBe(200)
    expect((await fides.call('editor', 'GET', `/domains/${body.items[0].id}/plan`)).body.blocked).toContain(
      'FIDES_PUBLIC_NAME',
    )
    expect((await fides.call('editor', 'GET', `/domains/${body.items[0].id}/zone/after`)).body).toMatchObject({
      status: 409,
      title: 'No zone yet',
    })
  })
  it('cannot change how slugs are read while they have links', async () => {
    const { body } = await fides.call('administrator', 'GET', '/domains')
    const domain = body.items.find((item: { host: string }) => item.host === 'ansl.example')
    const refused = await fides.call(
      'administrator',
      'PATCH',
      `/domains/${domain.id}`,
      { capitalsMatter: true },
      { 'if-match': `"${domain.version}"` },
    )
    expect(refused.status).toBe(409)
    expect(refused.body.errors[0].pointer).toBe('/capitalsMatter')
  })
})

describe('addresses of the desk', () => {
  const ask = (path: string, init: RequestInit = {}) => fetch(fides.system.adminAddress + path, init)

  it.each(['/.env', '/no-such', '/links', '/links/1/more', '/wp/../no-page', '/docket.php'])(
    '%s is no page: 404, with a page that says so',
    async (path) => {
      const answer = await ask(path)
      expect(answer.status).toBe(404)
      expect(answer.headers.get('content-type')).toMatch(/^text\/html/)
      expect(answer.headers.get('content-security-policy')).toMatch(/script-src/)
    },
  )

  it.each(['/', '/docket', '/docket/', '/docket?case=1', '/links/1', '/settings/account', '/stop-mails?key=x'])(
    '%s is a page: 200',
    async (path) => expect((await ask(path)).status).toBe(200),
  )

  it('answer HEAD as GET, without a body (RFC 9110 §9.3.2)', async () => {
    const answer = await ask('/api/v1/health', { method: 'HEAD' })
    expect(answer.status).toBe(200)
    expect(answer.headers.get('content-type')).toMatch(/json/)
    expect(await answer.text()).toBe('')
    expect((await ask('/api/v1/links', { method: 'HEAD' })).status).toBe(401)
  })

  it('answer 304 to whoever has the entity already (RFC 9110 §13.1.2)', async () => {
    const { headers } = await fides.call('administrator', 'GET', '/settings')
    const etag = headers.get('etag')!
    const again = (tag: string) =>
      fides.call('administrator', 'GET', '/settings', undefined, { 'if-none-match': tag }).then(({ status }) => status)
    expect(await again(etag)).toBe(304)
    expect(await again(`"other", W/${etag}`)).toBe(304)
    expect(await again('"other"')).toBe(200)
  })

  it('take no more than 16 KB of whoever is not signed in', async () => {
    const body = { email: 'a@port.test', password: 'x'.repeat(20_000) }
    expect((await fides.call('stranger', 'POST', '/session', body)).status).toBe(413)
  })
})
