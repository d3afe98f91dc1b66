import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { PASSWORD, TestFides } from './fides'

let fides: TestFides
beforeAll(async () => {
  fides = await TestFides.start({ environment: { FIDES_TRUSTED_PROXIES: '127.0.0.1' } })
})
afterAll(() => fides.stop())

describe('the sign-in form, sent by the browser itself', () => {
  const send = (
    fields: Record<string, string>,
    headers: Record<string, string> = { 'sec-fetch-site': 'same-origin' },
  ) =>
    fetch(fides.system.adminAddress + '/sign-in', {
      method: 'POST',
      redirect: 'manual',
      headers: { ...headers, forwarded: 'for=203.0.113.90' },
      body: new URLSearchParams(fields),
    })
  const right = { email: 'Viewer@port.test', password: PASSWORD }

  it('comes with the page, and goes where the person was going', async () => {
    const page = await (await fetch(fides.system.adminAddress + '/sign-in?to=/rules%22%3E')).text()
    expect(page).toContain('<form class="early" method="post" action="/sign-in">')
    expect(page).toContain('value="/rules&#34;&#62;"')
    expect(page).not.toContain('<script')
    const answer = await send({ ...right, to: '/rules?domain=ansl.example' })
    expect([answer.status, answer.headers.get('location')]).toEqual([303, '/rules?domain=ansl.example'])
    const cookie = answer.headers.get('set-cookie')!.split(';')[0]!
    expect((await fides.call('stranger', 'GET', '/session', undefined, { cookie })).status).toBe(200)
    const signedIn = await (await fetch(fides.system.adminAddress + '/sign-in', { headers: { cookie } })).text()
    expect(signedIn).not.toContain('<form')
  })

  it.each(['https://elsewhere.example/', '//elsewhere.example', '/\\elsewhere.example', 'javascript:alert(1)', ''])(
    'leads nowhere else: %s',
    async (to) => expect((await send({ ...right, to })).headers.get('location')).toBe('/register'),
  )

  it('is refused back to the form, in fixed words and without a session', async () => {
    const wrong = await send({ ...right, password: 'wrong', to: '/rules' })
    expect([wrong.status, wrong.headers.get('location')]).toEqual([303, '/sign-in?refused=wrong&to=%2Frules'])
    expect(wrong.headers.get('set-cookie')).not.toContain('__Host-fides=')
    // What was typed is kept, the password aside; once.
    const cookie = wrong.headers.get('set-cookie')!.split(';')[0]!
    const shown = await fetch(fides.system.adminAddress + wrong.headers.get('location'), { headers: { cookie } })
    expect(shown.headers.get('set-cookie')).toContain('__Host-fides-typed=; Max-Age=0')
    const again = await shown.text()
    expect(again).toContain('value="Viewer@port.test"')
    expect(again).toContain('<p class="refusal" role="alert">Wrong e-mail address or password.</p>')
    const made = await (await fetch(fides.system.adminAddress + '/sign-in?refused=%3Cb%3Etoo')).text()
    expect(made).not.toContain('refusal"')
    const foreign = await send(right, { 'sec-fetch-site': 'cross-site' })
    expect(foreign.headers.get('location')).toContain('refused=origin')
    expect(foreign.headers.get('set-cookie')).toBeNull()
    const large = await send({ ...right, password: 'x'.repeat(20_000) })
    expect(large.headers.get('set-cookie')).toBeNull()
  })
})

describe('a page of the desk', () => {
  it('may run our own files and its own inline scripts by hash, framed nowhere', async () => {
    const response = await fetch(fides.system.adminAddress + '/')
    const policy = response.headers.get('content-security-policy')!
    expect(policy).toMatch(/script-src 'self' 'sha256-/)
    expect(await response.text()).toContain('<script')
    expect(/script-src[^;]*unsafe-inline/.test(policy)).toBe(false)
    expect(policy).toContain("frame-ancestors 'none'")
    expect(response.headers.get('x-content-type-options')).toBe('nosniff')
    const { headers } = await fetch(fides.system.adminAddress + '/api/v1/health')
    expect(headers.get('content-security-policy')).toContain("default-src 'none'")
  })

  it('has no inline script to allow where people sign in, as that page has none', async () => {
    const response = await fetch(fides.system.adminAddress + '/sign-in')
    expect(response.headers.get('content-security-policy')).toMatch(/script-src 'self'(;|$)/)
    expect(await response.text()).not.toContain('<script')
  })

  it('names the scripts and styles it needs itself, so that none waits for another', async () => {
    const files = async (path: string) => {
      const html = await (await fetch(fides.system.adminAddress + path)).text()
      return {
        scripts: [...html.matchAll(/<link rel="modulepreload"[^>]* href="([^"]+)"/g)].map(([, file]) => file!),
        fonts: [...html.matchAll(/<link rel="preload" as="font"[^>]* href="([^"]+)"/g)].map(([, file]) => file!),
        styles: [...html.matchAll(/<link rel="stylesheet" href="([^"]+)"/g)].map(([, file]) => file!),
      }
    }
    const [docket, ledger] = [await files('/docket'), await files('/ledger')]
    expect(docket.fonts).toHaveLength(2)
    expect(docket.scripts.length).toBeGreaterThan(5)
    expect(docket.styles.length).toBeGreaterThan(2)
    expect(ledger.scripts).not.toEqual(docket.scripts)
    for (const file of [...docket.scripts, ...docket.styles, ...docket.fonts])
      expect((await fetch(fides.system.adminAddress + file)).status, file).toBe(200)
    // An address that is no page names those of no page.
    expect((await files('/no-such-page')).scripts.length).toBeLessThan(docket.scripts.length)
  })
})
