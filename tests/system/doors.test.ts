import { generateSync } from 'otplib'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { PASSWORD, TestFides, type Who } from './fides'

let fides: TestFides
beforeAll(async () => {
  fides = await TestFides.start({ environment: { FIDES_TRUSTED_PROXIES: '127.0.0.1' } })
})
afterAll(() => fides.stop())

const NEW_PASSWORD = 'ferry otter umbrella nine'
const signIn = async (who: Who, password = PASSWORD, headers: Record<string, string> = {}) => {
  const answer = await fides.call('stranger', 'POST', '/session', { email: `${who}@port.test`, password }, headers)
  return { ...answer, cookie: answer.headers.get('set-cookie')?.split(';')[0] ?? '' }
}
const as = (cookie: string, method: string, path: string, body?: unknown, more: Record<string, string> = {}) =>
  fides.call('stranger', method, path, body, { cookie, ...more })
/** Lets so many minutes pass for all sessions of a member. */
const age = (who: Who, minutes: number, column: 'seen_at' | 'created_at' | 'confirmed_at') =>
  fides.db.sequelize.query(
    `UPDATE session SET ${column} = DATE_SUB(${column}, INTERVAL ${minutes} MINUTE) WHERE member_id =
     (SELECT id FROM member WHERE email = '${who}@port.test')`,
  )

describe('a session', () => {
  it('is a cookie bound to its host, to TLS and to no script', async () => {
    const { headers } = await signIn('viewer')
    expect(headers.get('set-cookie')).toMatch(
      /^__Host-fides=[\w-]{43}; Max-Age=604800; Path=\/; HttpOnly; Secure; SameSite=Lax$/,
    )
  })

  it('is over on the server once signed out, whoever kept the cookie', async () => {
    const { cookie } = await signIn('viewer')
    expect((await as(cookie, 'GET', '/session')).status).toBe(200)
    expect((await as(cookie, 'DELETE', '/session')).status).toBe(204)
    expect((await as(cookie, 'GET', '/session')).status).toBe(401)
  })

  it('ends after eight hours without use and seven days after signing in', async () => {
    const { cookie } = await signIn('viewer')
    await age('viewer', 479, 'seen_at')
    expect((await as(cookie, 'GET', '/session')).status).toBe(200)
    await age('viewer', 481, 'seen_at')
    expect((await as(cookie, 'GET', '/session')).status).toBe(401)
    const second = await signIn('viewer')
    await age('viewer', 7 * 1440 + 1, 'created_at')
    expect((await as(second.cookie, 'GET', '/session')).status).toBe(401)
    fides.cookies.set('viewer', (await signIn('viewer')).cookie)
  })

  it('is listed to its owner, who ends it; nobody else can', async () => {
    const [here, there] = [await signIn('editor'), await signIn('editor', PASSWORD, { 'user-agent': 'Another' })]
    const { body } = await as(here.cookie, 'GET', '/account')
    const other = body.sessions.find((session: { agent: string }) => session.agent === 'Another')
    expect(body.sessions.filter((session: { own: boolean }) => session.own)).toHaveLength(1)
    expect((await fides.call('viewer', 'DELETE', `/account/sessions/${other.id}`)).status).toBe(404)
    expect((await as(there.cookie, 'GET', '/session')).status).toBe(200)
    expect((await as(here.cookie, 'DELETE', `/account/sessions/${other.id}`)).status).toBe(204)
    expect((await as(there.cookie, 'GET', '/session')).status).toBe(401)
  })

  it('is in the database as a hash alone', async () => {
    const { cookie } = await signIn('editor')
    const word = cookie.split('=')[1]!
    expect(JSON.stringify(await fides.db.Session.findAll())).not.toContain(word)
  })

  it('has no second way in by the framework', async () => {
    const { cookie } = await signIn('editor')
    for (const method of ['GET', 'DELETE']) {
      const address = fides.system.adminAddress + '/api/_auth/session'
      const { status, headers } = await fetch(address, { method, headers: { cookie } })
      expect(status).toBe(404)
      expect(headers.get('set-cookie')).toBeNull()
    }
    expect((await as(cookie, 'GET', '/session')).status).toBe(200)
  })
})

describe('a request that changes something', () => {
  const made = (headers: Record<string, string>) =>
    fetch(`${fides.system.adminAddress}/api/v1/links`, {
      method: 'POST',
      headers: { 'content-type': 'application/json', cookie: fides.cookies.get('editor')!, ...headers },
      body: '{}',
    }).then(({ status }) => status)

  it.each([
    [{ 'sec-fetch-site': 'cross-site' }, 403],
    [{ 'sec-fetch-site': 'same-site' }, 403],
    [{ 'sec-fetch-site': 'none' }, 403],
    [{}, 403],
    [{ origin: 'null' }, 403],
    [{ origin: 'https://elsewhere.example' }, 403],
    // 422 is past the door: the link is empty.
    [{ 'sec-fetch-site': 'same-origin' }, 422],
  ] as [Record<string, string>, number][])('with %j gets %i', async (headers, status) =>
    expect(await made(headers)).toBe(status),
  )
  it('is believed by its Origin where the browser sends no Fetch Metadata', async () =>
    expect(await made({ origin: fides.system.adminAddress })).toBe(422))
  it('is let pass with a token, as no cookie can be meant', async () => {
    const { body } = await fides.call('editor', 'POST', '/tokens', { name: 'Script', scope: 'write' })
    expect(await made({ authorization: `Bearer ${body.secret}`, cookie: '' })).toBe(422)
  })
})

describe('one’s own password', () => {
  it('is changed with the present one, is strong, and ends other sessions and tokens', async () => {
    const [here, there] = [await signIn('editor'), await signIn('editor')]
    const { body: token } = await as(here.cookie, 'POST', '/tokens', { name: 'Script', scope: 'read' })
    const change = (present: string, password: string) =>
      as(here.cookie, 'POST', '/account/password', { present, password })
    expect((await change('not it', NEW_PASSWORD)).body.errors[0].pointer).toBe('/present')
    for (const weak of ['short', 'password1234', 'editor@port.test', 'qwertzuiop', 'Test Transit 1'])
      expect((await change(PASSWORD, weak)).body.errors?.[0]?.pointer, weak).toBe('/password')
    expect((await change(PASSWORD, NEW_PASSWORD)).status).toBe(204)
    expect((await as(here.cookie, 'GET', '/session')).status).toBe(200)
    expect((await as(there.cookie, 'GET', '/session')).status).toBe(401)
    expect(
      (await fides.call('stranger', 'GET', '/links', undefined, { authorization: `Bearer ${token.secret}` })).status,
    ).toBe(401)
    expect((await signIn('editor')).status).toBe(401)
    const again = await signIn('editor', NEW_PASSWORD)
    expect(again.status).toBe(200)
    fides.cookies.set('editor', again.cookie)
    const { body } = await as(again.cookie, 'GET', '/account')
    expect(body.events.map(({ words }: { words: string }) => words)).toEqual(
      expect.arrayContaining(['Changed the password', 'Failed sign-in: wrong password', 'Signed in']),
    )
  })
})

describe('a one-time address', () => {
  it('invites: the password is chosen by whoever opens it, once, and by nobody else', async () => {
    const person = { email: 'guest@port.test', name: 'Guest', role: 'viewer' }
    const invited = await fides.call('administrator', 'POST', '/members', person)
    expect(invited.body).toMatchObject({ joined: false, secondFactor: false })
    // No password is set by somebody else, by any way.
    expect((await fides.call('administrator', 'POST', '/members', { ...person, password: NEW_PASSWORD })).status).toBe(
      422,
    )
    const word = invited.body.address.path.split('#')[1]
    expect((await fides.call('stranger', 'POST', '/welcome', { word: 'invented' })).status).toBe(403)
    expect((await fides.call('stranger', 'POST', '/welcome', { word })).body).toEqual({
      name: 'Guest',
      email: 'guest@port.test',
    })
    const choose = (password: string) => fides.call('stranger', 'POST', '/welcome/password', { word, password })
    expect((await choose('guest guest guest')).body.errors[0].pointer).toBe('/password')
    const chosen = await Promise.all([choose(NEW_PASSWORD), choose(NEW_PASSWORD + '!')])
    expect(chosen.map(({ status }) => status).sort()).toEqual([200, 403])
    expect((await choose(NEW_PASSWORD)).status).toBe(403)
    expect(JSON.stringify((await fides.call('administrator', 'GET', '/ledger')).body)).not.toContain(word)
  })

  it('made anew lets those before lapse, and lapses by itself', async () => {
    const { body: members } = await fides.call('administrator', 'GET', '/members')
    const guest = members.items.find(({ email }: { email: string }) => email === 'guest@port.test')
    const make = async () =>
      (await fides.call('administrator', 'POST', `/members/${guest.id}/address`)).body.path.split('#')[1]
    const [first, second] = [await make(), await make()]
    expect((await fides.call('stranger', 'POST', '/welcome', { word: first })).status).toBe(403)
    expect((await fides.call('stranger', 'POST', '/welcome', { word: second })).status).toBe(200)
    await fides.db.sequelize.query('UPDATE one_time_address SET expires_at = DATE_SUB(expires_at, INTERVAL 25 HOUR)')
    expect((await fides.call('stranger', 'POST', '/welcome', { word: second })).status).toBe(403)
  })
})

describe('a second factor', () => {
  const STEP_MS = 30_000
  let secret = ''
  let recovery: string[] = []
  /** The code of a step from now, as an authenticator shows it. */
  const code = (steps: number) => generateSync({ secret, epoch: Math.floor((Date.now() + steps * STEP_MS) / 1000) })
  const factor = (cookie: string, body: object) => as(cookie, 'POST', '/session/factor', body)

  it('is taken into use by a code of it, and brings recovery codes', async () => {
    const { cookie } = await signIn('viewer')
    const { body: offer } = await as(cookie, 'POST', '/account/code/offer')
    secret = offer.secret
    expect(offer.address).toMatch(/^otpauth:\/\/totp\/.*viewer/)
    expect((await as(cookie, 'POST', '/account/code', { code: '000000' })).body.errors[0].pointer).toBe('/code')
    const added = await as(cookie, 'POST', '/account/code', { code: code(-1) })
    expect(added.status).toBe(201)
    recovery = added.body.recoveryCodes
    expect(recovery).toHaveLength(10)
    const stored = JSON.stringify(await fides.db.Member.findAll())
    expect(stored).not.toContain(secret)
  })

  it('is asked for when signing in; until then the session opens nothing', async () => {
    const { cookie, body } = await signIn('viewer')
    expect(body).toEqual({ needs: ['code', 'recovery'] })
    for (const path of ['/session', '/links', '/account', '/ledger'])
      expect((await as(cookie, 'GET', path)).status, path).toBe(401)
    expect((await factor(cookie, { code: '123456' })).status).toBe(401)
    // The code that was taken before is not taken again (RFC 6238 §5.2).
    expect((await factor(cookie, { code: code(-1) })).status).toBe(401)
    const given = await factor(cookie, { code: code(0) })
    expect(given.status).toBe(200)
    // Another word than the one that was seen before.
    const whole = given.headers.get('set-cookie')!.split(';')[0]!
    expect(whole).not.toBe(cookie)
    expect((await as(whole, 'GET', '/session')).status).toBe(200)
    expect((await as(cookie, 'GET', '/session')).status).toBe(401)
  })

  it('is stood in for by a recovery code, once', async () => {
    const once = recovery[0]!.toUpperCase().replaceAll('-', ' ')
    const first = await signIn('viewer')
    expect((await factor(first.cookie, { recovery: once })).status).toBe(200)
    const second = await signIn('viewer')
    expect((await factor(second.cookie, { recovery: once })).status).toBe(401)
    const tries = await Promise.all(
      Array.from({ length: 4 }, async () => factor((await signIn('viewer')).cookie, { recovery: recovery[1]! })),
    )
    expect(tries.filter(({ status }) => status === 200)).toHaveLength(1)
  })

  it('is not guessed: tries are counted before they are verified', async () => {
    const { cookie } = await signIn('viewer')
    const from = { forwarded: 'for=203.0.113.77' }
    const tries = await Promise.all(
      Array.from({ length: 30 }, (_, index) =>
        as(cookie, 'POST', '/session/factor', { code: String(100_000 + index) }, from),
      ),
    )
    // Looked at, and wrong; the fifth of them ends this sign-in, and tries after that are by nobody.
    const verified = tries.filter(({ body }) => body.wrong === 'code')
    expect(verified.length).toBeGreaterThanOrEqual(5)
    expect(verified.length).toBeLessThanOrEqual(10)
    for (const { status } of tries) expect([401, 429]).toContain(status)
    expect((await as(cookie, 'POST', '/session/factor', { code: '000000' }, from)).status).toBe(401)
  })

  it('is asked for again before members, tokens and keys are touched', async () => {
    const { cookie } = await signIn('viewer', PASSWORD, { forwarded: 'for=203.0.113.78' })
    const given = await as(
      cookie,
      'POST',
      '/session/factor',
      { recovery: recovery[2] },
      { forwarded: 'for=203.0.113.78' },
    )
    const whole = given.headers.get('set-cookie')!.split(';')[0]!
    const make = () => as(whole, 'POST', '/tokens', { name: 'Later', scope: 'read' })
    expect((await make()).status).toBe(201)
    await age('viewer', 16, 'confirmed_at')
    expect((await make()).body).toMatchObject({ status: 403, confirm: ['code', 'recovery'] })
    const confirm = (body: object) => as(whole, 'POST', '/session/confirm', body, { forwarded: 'for=203.0.113.78' })
    // The password is no second factor.
    expect((await confirm({ password: PASSWORD })).status).toBe(401)
    expect((await confirm({ recovery: recovery[3] })).status).toBe(204)
    expect((await make()).status).toBe(201)
  })

  it('is taken away by an administrator, whose own is asked by password where there is none', async () => {
    const { body: members } = await fides.call('administrator', 'GET', '/members')
    const viewer = members.items.find(({ role }: { role: string }) => role === 'viewer')
    expect(members.items.find(({ email }: { email: string }) => email === 'viewer@port.test').secondFactor).toBe(true)
    await age('administrator', 16, 'confirmed_at')
    const take = () => fides.call('administrator', 'DELETE', `/members/${viewer.id}/factors`)
    expect((await take()).body.confirm).toEqual(['password'])
    expect((await fides.call('administrator', 'POST', '/session/confirm', { password: PASSWORD })).status).toBe(204)
    const again = members.items.find(({ email }: { email: string }) => email === 'viewer@port.test')
    expect((await fides.call('administrator', 'DELETE', `/members/${again.id}/factors`)).status).toBe(204)
    const { body } = await signIn('viewer', PASSWORD, { forwarded: 'for=203.0.113.79' })
    expect(body.member.email).toBe('viewer@port.test')
  })
})

describe('the networks of checks', () => {
  it('are listed by a person alone who proved who they are', async () => {
    const { cookie } = await signIn('administrator')
    const list = async (network: string) => {
      const etag = (await as(cookie, 'GET', '/settings')).headers.get('etag')!
      return as(cookie, 'PATCH', '/settings', { checkNetworks: [network] }, { 'if-match': etag })
    }
    await age('administrator', 20, 'confirmed_at')
    expect(await list('10.20.0.0/16')).toMatchObject({ status: 403, body: { confirm: expect.any(Array) } })
    await age('administrator', -25, 'confirmed_at')
    expect((await list('127.0.0.0/8')).status).toBe(422)
    expect((await list('10.20.0.0/16')).status).toBe(200)
  })
})
