import { once } from 'node:events'
import { request } from 'node:http'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { seeded } from '../../server/database/seed/chance'
import { TestFides, until, type Told, type Who } from './fides'

/** How often each is killed; FIDES_EXCHANGE_KILLS asks for more. */
const KILLS = Number(process.env.FIDES_EXCHANGE_KILLS ?? 2)
const LINES = 2000

let fides: TestFides
beforeAll(async () => {
  // Mails are written and wait: nobody takes them there.
  const environment = { FIDES_SMTP_URL: 'smtp://127.0.0.1:9', FIDES_MAIL_FROM: 'Fides <links@port.test>' }
  fides = await TestFides.start({ environment })
})
afterAll(() => fides.stop())

const call = (method: string, path: string, body?: unknown, headers?: Record<string, string>) =>
  fides.call('administrator', method, path, body, headers)
const send = (name: string, text: string | Uint8Array, type = 'application/octet-stream') =>
  call('POST', `/imports?name=${encodeURIComponent(name)}&domain=ansl.example`, text, { 'content-type': type })
const PATIENCE_MS = 120_000
const read = (id: number) =>
  until(
    'it is read',
    async () => {
      const { body } = await call('GET', `/imports/${id}`)
      return body.state === 'reading' ? undefined : (body as Told)
    },
    PATIENCE_MS,
  )
const bring = async (name: string, text: string) => read((await send(name, text)).body.id)
const apply = ({ id, version }: Told) => call('POST', `/imports/${id}/apply`, {}, { 'if-match': `"${version}"` })

describe('a file sent to the desk', () => {
  it('is read, applied, live at the gateway, and taken out again as it came in', async () => {
    const { status, body } = await send('list.txt', '/sent https://www.portansel.example/sent 301\n/gone-x gone')
    expect(status).toBe(202)
    const intake = await read(body.id)
    expect((await apply(intake)).body).toMatchObject({ state: 'applied' })
    await until('it is live', async () => (await fides.visit('ansl.example/sent')).status === 301)
    expect((await fides.visit('ansl.example/gone-x')).status).toBe(410)
    const out = await call('GET', '/export/plain?domain=ansl.example')
    expect(out.body as unknown as string).toContain('/sent https://www.portansel.example/sent 301\n')
    expect(out.body as unknown as string).toContain('/gone-x gone\n')
    const tag = out.headers.get('etag')!
    const again = await call('GET', '/export/plain?domain=ansl.example', undefined, { 'if-none-match': tag })
    expect(again.status).toBe(304)
    await fides.link({ domain: 'ansl.example', slug: 'one-more' })
    const changed = await call('GET', '/export/plain?domain=ansl.example', undefined, { 'if-none-match': tag })
    expect(changed.status).toBe(200)
    expect(changed.headers.get('etag')).not.toBe(tag)
  })

  it('is taken out for some links alone, and as a sitemap of what leads somewhere', async () => {
    const one = await fides.link({ domain: 'ansl.example', slug: 'picked-é' })
    const two = await fides.link({ domain: 'ansl.example', slug: 'picked-two', unlisted: true })
    const some = await call('GET', `/export/plain?domain=ansl.example&links=${one.id},${two.id}`)
    const lines = (some.body as unknown as string).split('\n').filter((line) => line && !line.startsWith('#'))
    expect(lines.map((line) => line.split(' ')[0])).toEqual(['/picked-two', '/picked-é'])
    const map = (await call('GET', `/export/sitemap?domain=ansl.example&links=${one.id},${two.id}`)).body as unknown
    expect(map).toContain('<loc>https://ansl.example/picked-%C3%A9</loc>')
    expect(map).not.toContain('picked-two')
    const about = await call('GET', `/export/sitemap/about?domain=ansl.example&links=${one.id},${two.id}`)
    expect(about.body.cannot.map(({ code }: Told) => code)).toEqual(['only', 'unlisted'])
    for (const wrong of ['1,', 'x', '0', '1;2', '1,'.repeat(4000) + '1'])
      expect((await call('GET', `/export/plain?domain=ansl.example&links=${wrong}`)).body.errors[0].pointer).toBe(
        '/links',
      )
  })

  it('waits for others of its member that are on their way, and for nobody else’s', async () => {
    const { hostname, port } = new URL(fides.system.adminAddress)
    const senders = Array.from({ length: 4 }, () => {
      const sent = request({
        hostname,
        port,
        method: 'POST',
        path: '/api/v1/imports?name=slow.txt&domain=ansl.example',
        headers: {
          cookie: fides.cookieOf('administrator'),
          'sec-fetch-site': 'same-origin',
          'content-type': 'application/octet-stream',
        },
      })
      sent.write('/slow https://www.portansel.example/slow')
      return { sent, answer: once(sent, 'response') }
    })
    await Promise.all(senders.map(({ sent }) => once(sent, 'socket')))
    const long = '# a long list\n'.repeat(6000)
    const own = send('own.txt', long)
    const path = '/imports?name=other.txt&domain=ansl.example'
    const other = await fides.call('editor', 'POST', path, long, { 'content-type': 'application/octet-stream' })
    expect(other.status).toBe(202)
    for (const { sent } of senders) sent.destroy()
    await Promise.allSettled(senders.map(({ answer }) => answer))
    expect((await own).status).toBe(202)
  })

  it('is stopped while it is brought in, and then nothing of it is there', async () => {
    const lines = Array.from({ length: 8000 }, (_, at) => `/stopped/${at} https://www.portansel.example/${at} 302`)
    const intake = await bring('stopped.txt', lines.join('\n'))
    const entries = await fides.db.LedgerEntry.count()
    const making = apply(intake)
    await until('it is under way', async () => {
      const { state, done } = (await call('GET', `/imports/${intake.id}`)).body
      return state === 'applying' && done > 0
    })
    expect((await call('DELETE', `/imports/${intake.id}`)).status).toBe(204)
    expect(await making).toMatchObject({ status: 409, body: { title: 'Stopped' } })
    expect(await fides.db.Link.count({ where: { slug: 'stopped/1' } })).toBe(0)
    expect(await fides.db.LedgerEntry.count()).toBe(entries)
    const { body } = await call('GET', `/imports/${intake.id}`)
    expect(body, JSON.stringify(body)).toMatchObject({ state: 'ready' })
    await call('DELETE', `/imports/${intake.id}`)
  })

  it('that lies on a server inside is not fetched, and one that waits is shown to colleagues alone', async () => {
    const fetched = await call('POST', '/imports/fetch', { address: 'http://127.0.0.1:1/x', domain: 'ansl.example' })
    expect(fetched.status).toBe(422)
    expect(fetched.body.errors[0]).toMatchObject({ pointer: '/address' })
    for (const address of ['', 'no address', 'ftp://x.example/', 'javascript:alert(1)'])
      expect((await call('POST', '/imports/fetch', { address, domain: 'ansl.example' })).body.errors[0].pointer).toBe(
        '/address',
      )
    const intake = await bring('shown.txt', '/shown https://www.portansel.example/shown 302')
    const ask = (who: Who, colleague: string, note = 'Lines 3 and 4') =>
      fides.call(who, 'POST', `/imports/${intake.id}/ask`, { colleague, note })
    expect((await ask('viewer', 'editor@port.test')).status).toBe(403)
    expect((await ask('editor', 'nobody@port.test')).body.errors[0].pointer).toBe('/colleague')
    expect((await ask('editor', 'viewer@port.test')).status).toBe(204)
    const [mail] = await fides.db.Mail.findAll({ where: { kind: 'ask' } })
    expect(mail).toMatchObject({ recipient: 'viewer@port.test', subject: 'editor asks you to review shown.txt' })
    expect(mail!.text).toContain(`/exchange/${intake.id}`)
    expect(mail!.text).toContain('“Lines 3 and 4”')
    const two = await ask('editor', 'viewer@port.test', 'Look\r\nBcc: x@port.test')
    expect(two.body.errors[0].pointer).toBe('/note')
    await call('DELETE', `/imports/${intake.id}`)
    expect((await ask('editor', 'viewer@port.test')).status).toBe(409)
  })

  it('has an old server’s log put to it', async () => {
    const { body } = await send('logged.txt', '/logged https://www.portansel.example/logged 301')
    const intake = await read(body.id)
    const line = (target: string, status: number) =>
      `192.0.2.7 - - [20/Nov/2026:10:00:00 +0000] "GET ${target} HTTP/1.1" ${status} 0 "-" "Mozilla/5.0"`
    const log = [line('/logged', 301), line('/logged?x=1', 301), line('/elsewhere', 200), line('/no', 404), 'odd'].join(
      '\n',
    )
    const told = await call('POST', `/imports/${intake.id}/log`, log, { 'content-type': 'text/plain' })
    expect(told.body).toMatchObject({
      lines: 5,
      unread: 1,
      requests: 4,
      landedThere: 3,
      lostHere: 1,
      counts: { served: 2, missing: 2 },
      lost: [{ target: '/elsewhere', count: 1 }],
    })
    const none = await call('POST', `/imports/${intake.id}/log`, 'no log at all', { 'content-type': 'text/plain' })
    expect(none.body.errors[0]).toMatchObject({ pointer: '/log' })
    await call('DELETE', `/imports/${intake.id}`)
  })

  it('all of it comes back from its own JSON, as the same', async () => {
    const out = await call('GET', '/export/json?domain=ansl.example')
    const { body } = await send('again.json', JSON.stringify(out.body))
    const intake = await read(body.id)
    expect(intake.counts).toMatchObject({ new: 0, clash: 0, refused: 0 })
    expect(intake.counts.same).toBeGreaterThan(0)
    await call('DELETE', `/imports/${intake.id}`)
  })

  it.each([
    ['empty', new Uint8Array(), 422, 'The file is empty.'],
    ['too large', new Uint8Array(50_000_001), 413, 'maximum is 50 MB'],
    ['a damaged ZIP', new Uint8Array([0x50, 0x4b, 3, 4, 1, 2, 3]), 422, 'damaged'],
  ])('that is %s is refused in a sentence', async (_what, octets, status, words) => {
    const refused = await send('x.bin', octets)
    expect(refused.status).toBe(status)
    expect(refused.body.detail).toContain(words)
  })

  it('of another kind than it may be sent as is refused, and so is one of no kind there is', async () => {
    expect((await send('x', 'a', 'image/png')).status).toBe(415)
    const odd = await call('POST', '/imports?name=x&domain=ansl.example&format=odd', 'a', {
      'content-type': 'application/octet-stream',
    })
    expect(odd.body.errors[0]).toMatchObject({ pointer: '/format' })
    const nowhere = await call('POST', '/imports?name=x&domain=no.example', 'a', { 'content-type': 'text/plain' })
    expect(nowhere.body.errors[0]).toMatchObject({ pointer: '/domain' })
  })

  it('can be let go while it is read; forty at once are answered one way or another', async () => {
    const all = await Promise.all(
      Array.from({ length: 40 }, (_, at) => send(`${at}.txt`, `/many-${at} https://www.portansel.example/${at} 302`)),
    )
    const statuses = all.map(({ status }) => status)
    expect(
      statuses.every((status) => status === 202 || status === 429),
      statuses.join(),
    ).toBe(true)
    for (const { status, body } of all)
      if (status === 202) expect((await call('DELETE', `/imports/${body.id}`)).status).toBe(204)
  })
})

describe('a file whose bringing in is cut short', () => {
  it.each(['the desk', 'the database'] as const)(
    'by a kill of %s: is brought in whole or not at all, and can be again',
    async (who) => {
      const random = seeded(who.length)
      for (let kill = 1; kill <= KILLS; kill++) {
        const family = `${who === 'the desk' ? 'desk' : 'base'}${kill}`
        const lines = Array.from(
          { length: LINES },
          (_, at) => `/${family}/${at} https://www.portansel.example/${at * 7} 302`,
        )
        const intake = await bring(`${family}.txt`, lines.join('\n'))
        const made = async () =>
          Number(
            await fides.db.Link.count({ where: { slug: Array.from({ length: LINES }, (_, at) => `${family}/${at}`) } }),
          )
        const entries = await fides.db.LedgerEntry.count()
        const making = apply(intake).catch(() => undefined)
        await new Promise((resolve) => setTimeout(resolve, 30 + random() * 1500))
        if (who === 'the desk') fides.process('admin').child.kill('SIGKILL')
        else {
          await fides.system.crashDatabase()
          fides.system.takeDatabase(await fides.startDatabaseAgain())
        }
        await making
        await until(
          'the desk answers',
          async () => (await call('GET', '/links?limit=1').catch(() => undefined))?.status === 200,
          60_000,
        )
        const count = await made()
        expect([0, LINES], `kill ${kill}`).toContain(count)
        expect(await fides.db.LedgerEntry.count()).toBe(entries + Number(count === LINES))
        if (count === 0) {
          await fides.db.Intake.update({ leasedUntil: new Date(0) }, { where: { id: intake.id, state: 'applying' } })
          const { body } = await call('GET', `/imports/${intake.id}`)
          expect(body, JSON.stringify(body)).toMatchObject({ state: 'ready' })
          expect((await apply(body as Told)).status).toBe(200)
          expect(await made()).toBe(LINES)
        }
      }
    },
    120_000 + KILLS * 20_000,
  )
})
