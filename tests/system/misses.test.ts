import { request } from 'node:http'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { TestFides, until, type Told } from './fides'

let fides: TestFides
beforeAll(async () => {
  fides = await TestFides.start({ environment: { FIDES_TRUSTED_PROXIES: '127.0.0.1' } })
  for (const [slug, more] of [
    ['fares', {}],
    ['night', {}],
    ['hidden-offer', { unlisted: true }],
  ] as const) {
    await fides.link({ slug, destination: `https://www.example/${slug}`, ...more })
  }
}, 120_000)
afterAll(() => fides?.stop())

interface Page {
  status: number
  headers: Record<string, string | string[] | undefined>
  text: string
}
/** Asks the gateway as somebody of a phone and an address. */
function ask(path: string, { visitor = 1, headers = {}, host = 'ansl.example', method = 'GET' } = {}): Promise<Page> {
  return new Promise((resolve, reject) => {
    const call = request(
      {
        host: '127.0.0.1',
        port: fides.system.settings.FIDES_GATEWAY_PORT,
        path,
        method,
        headers: {
          host,
          'user-agent': `Mozilla/5.0 (iPhone; CPU iPhone OS 18_1 like Mac OS X) Safari/${visitor}`,
          'x-forwarded-for': `203.0.113.${visitor % 250}`,
          ...headers,
        },
      },
      (response) => {
        let text = ''
        response.setEncoding('utf8')
        response.on('data', (piece) => (text += piece))
        response.on('end', () => resolve({ status: response.statusCode!, headers: response.headers, text }))
      },
    )
    call.on('error', reject).end()
  })
}

describe('the page for what was not found', () => {
  it('offers the one likely link, in the visitor’s language, with 404 and nothing to keep', async () => {
    const page = await until('the ranking', async () => {
      const found = await ask('/fraes', { headers: { 'accept-language': 'pt-BR,en;q=0.5' } })
      return found.text.includes('href="/fares"') ? found : undefined
    })
    expect(page.status).toBe(404)
    expect(page.headers).toMatchObject({
      'cache-control': 'no-store',
      'x-robots-tag': 'noindex',
      vary: 'Accept-Language',
    })
    expect(page.text).toContain('<html lang="pt">')
    expect(page.text).toContain('Endereço mais próximo')
    expect(page.headers['content-security-policy']).not.toContain('script')
  })
  it('never tells of an unlisted link', async () => {
    expect((await ask('/hiden-offer')).text).not.toContain('hidden-offer"')
  })
  it('offers a link made a moment ago, and none that is retired since', async () => {
    const made = (await fides.link({ slug: 'regatta' })) as { id: number; version: number }
    await until('the new link', async () => (await ask('/regata')).text.includes('href="/regatta"'))
    expect((await fides.change(made, { standing: 'retired' })).status).toBe(200)
    await until('its end', async () => !(await ask('/regata')).text.includes('href="/regatta"'))
  })
  it('shows what was asked as text, whatever it is', async () => {
    const page = await ask('/%3Cscript%3Ealert(1)%3C/script%3E%E2%80%AE')
    expect(page.text).not.toContain('<script')
    expect(page.text).not.toContain('\u202e')
  })
  it('answers HEAD without a body and takes what the field was given to this host alone', async () => {
    expect(await ask('/fraes', { method: 'HEAD' })).toMatchObject({ status: 404, text: '' })
    for (const [typed, location] of [
      ['fares', '/fares'],
      [' https://ansl.example/night ', '/night'],
      ['//evil.example/x', '/x'],
      ['\\\\evil.example', '/evil.example'],
      ['/a b?c#d', '/a%20b%3Fc%23d'],
      ['javascript:alert(1)', '/javascript:alert(1)'],
    ]) {
      const { status, headers } = await ask(`/.well-known/short-address/find?address=${encodeURIComponent(typed!)}`)
      expect([status, headers.location]).toEqual([303, location])
    }
  })
  it('speaks for names that are not ours without telling whose they are', async () => {
    const page = await ask('/fares', { host: 'nobody.example', headers: { 'accept-language': 'de' } })
    expect(page.status).toBe(421)
    expect(page.text).toContain('Keine Website unter diesem Namen')
  })
})

describe('a miss, from the gateway to the docket and back', () => {
  it('is a case, is settled by another slug of its link, lands, and is counted', async () => {
    for (const visitor of [11, 12, 13]) await ask('/nigth', { visitor })
    // One of them finds what was meant.
    expect((await ask('/night', { visitor: 12 })).status).toBe(302)
    const found = (await until('the case', async () => {
      const { body } = await fides.call('viewer', 'GET', '/cases?lane=misses')
      return body.items.find((item: Told) => item.name === 'ansl.example/nigth')
    })) as Told
    expect(found.headline).toBe('Probably meant: ansl.example/night')
    const miss = (await until('what was found next', async () => {
      const { body } = await fides.call('administrator', 'GET', '/misses?q=nigth')
      const { body: detail } = await fides.call('administrator', 'GET', `/misses/${body.items[0].id}`)
      return detail.followed.length > 0 && detail
    })) as Told
    expect(miss.followed).toMatchObject([{ address: 'ansl.example/night', visitors: 1 }])
    const settled = await fides.call('editor', 'POST', '/misses/settle', {
      items: [{ miss: miss.id, decision: 'alias' }],
    })
    expect(settled.status).toBe(200)
    await until(
      'the slug',
      async () => (await ask('/nigth', { visitor: 14 })).headers.location === 'https://www.example/night',
    )
    await until('the visit', async () => {
      const { body } = await fides.call('administrator', 'GET', `/misses/${miss.id}`)
      return body.answeredBy?.served >= 1
    })
  })

  it('is settled once, however many try at once', async () => {
    for (const visitor of [21, 22, 23]) await ask('/farse', { visitor })
    const { id } = (await until('the miss', async () => {
      const { body } = await fides.call('administrator', 'GET', '/misses?q=farse')
      return body.items[0]
    })) as Told
    const all = await Promise.all(
      Array.from({ length: 40 }, () =>
        fides.call('editor', 'POST', '/misses/settle', { items: [{ miss: id, decision: 'alias' }] }),
      ),
    )
    expect(all.filter(({ status }) => status === 200)).toHaveLength(1)
    expect(all.filter(({ status }) => status === 409)).toHaveLength(39)
  })

  it('refuses a viewer, and tells a wrong wish by its field', async () => {
    const items = [{ miss: 1, decision: 'gone' }]
    expect((await fides.call('viewer', 'POST', '/misses/settle', { items })).status).toBe(403)
    const wrong = await fides.call('editor', 'POST', '/misses/settle', { items: [{ miss: 1, decision: 'maybe' }] })
    expect(wrong).toMatchObject({ status: 422 })
    expect(JSON.stringify(wrong.body)).toContain('noise-shape')
  })

  it('keeps within bounds under a scan, and says what was cut', async () => {
    await Promise.all(
      Array.from({ length: 20 }, async (_, client) => {
        for (let at = 0; at < 100; at++) await ask(`/scan-${client}-${at}`, { visitor: 100 + (client % 4) })
      }),
    )
    await until('the cut', async () => {
      const { body } = await fides.call('administrator', 'GET', '/misses')
      return body.cut > 1500
    })
    const { body } = await fides.call('administrator', 'GET', '/misses?state=open&q=scan')
    expect(body.items).toEqual([])
  })
})
