import { existsSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { request as httpRequest } from 'node:http'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { FrontSettings } from '../../scripts/front'
import { startPebble, type Pebble } from '../../scripts/pebble'
import { freePort } from '../../scripts/ports'
import { frontFolder, startFront } from '../../scripts/start-front'
import { TestFides, until, type Told } from './fides'
import { makeVisitor } from './front-visitor'
import { NAME_SERVERS, Outside } from './outside'

// Everything is real but the names: Caddy, an authority that challenges by DNS and TLS, our gateway, desk and worker.
const VALID_SECONDS = 24
let outside: Outside
let pebble: Pebble
let fides: TestFides
let visitor: ReturnType<typeof makeVisitor>
let settings: FrontSettings
const folder = mkdtempSync(join(tmpdir(), 'fides-front-'))

const zone = (more = '') => `$ORIGIN rider.example.
$TTL 1
@ IN SOA ns1 hostmaster ( 2026111801 7200 900 1209600 1 )
@ IN NS ns1
@ IN NS ns2
ns1 IN A ${NAME_SERVERS[0]}
ns2 IN A ${NAME_SERVERS[1]}
@ IN A 127.0.0.1
${more}`

beforeAll(async () => {
  outside = await Outside.start()
  outside.world.put('rider.example.', zone())
  const [http, https, acme, management] = await Promise.all([freePort(), freePort(), freePort(), freePort()])
  pebble = await startPebble({
    folder,
    port: acme,
    managementPort: management,
    httpPort: http,
    httpsPort: https,
    resolver: `127.0.0.1:${outside.world.resolvers[0]!.port}`,
    validSeconds: VALID_SECONDS,
  })
  settings = {
    FIDES_FRONT: 'on',
    FIDES_FRONT_HTTP_PORT: http,
    FIDES_FRONT_HTTPS_PORT: https,
    FIDES_ACME_DIRECTORY: pebble.directory,
    FIDES_ACME_ROOT: pebble.rootFile,
  }
  const issuer = await pebble.issuer()
  visitor = makeVisitor(settings, issuer)
  const trusted = join(folder, 'issuer.pem')
  writeFileSync(trusted, issuer)
  fides = await TestFides.start({
    environment: (of) => ({
      ...outside.environment(of, {
        // What browsers trust, desk and worker trust.
        NODE_EXTRA_CA_CERTS: trusted,
        FIDES_PUBLIC_ADDRESSES: '127.0.0.1',
        FIDES_PRIVATE_NETWORKS: '127.0.0.0/8',
        FIDES_TRUSTED_PROXIES: '127.0.0.1',
        FIDES_FRONT_STATE: join(of.folder, 'front'),
      }),
      FIDES_DETOURS: [
        outside.environment(of).FIDES_DETOURS,
        `127.0.0.1:80=127.0.0.1:${http}`,
        `127.0.0.1:443=127.0.0.1:${https}`,
      ].join(','),
    }),
  })
  await startFront(fides.system, settings)
}, 120_000)
afterAll(async () => {
  await fides?.stop()
  await pebble?.stop()
  await outside?.stop()
  rmSync(folder, { recursive: true, force: true })
})

const handshake: typeof visitor.handshake = (host) => visitor.handshake(host)
const secure: typeof visitor.secure = (host, path) => visitor.secure(host, path)
const plain: typeof visitor.plain = (host, path) => visitor.plain(host, path)
const admin = (method: string, path: string, body?: unknown, headers?: Record<string, string>) =>
  fides.call('administrator', method, path, body, headers)
let id: number
const domain = async (): Promise<Told> => (await admin('GET', `/domains/${id}`)).body
const change = async (body: object) => {
  const { version } = await domain()
  return admin('PATCH', `/domains/${id}`, { ...body, reason: 'test' }, { 'if-match': `"${version}"` })
}
const certificate = async () => (await admin('GET', `/domains/${id}/certificate`)).body
const cases = async (kind: string): Promise<Told[]> =>
  (await admin('GET', '/cases?lane=domains')).body.items.filter((one: Told) => one.kind === kind)

describe('a domain, from its zone to https', () => {
  it('gets no certificate before it is open: the front is told no, and the authority is not bothered', async () => {
    id = (await admin('POST', '/domains', { host: 'rider.example' })).body.id
    await expect(handshake('rider.example')).rejects.toThrow()
    await expect(handshake('nobody.example')).rejects.toThrow()
    expect((await certificate()).events).toEqual([])
  })

  it('opens once proved and reached, and answers by https with the first visit', async () => {
    const { body: plan } = await admin('GET', `/domains/${id}/plan`)
    const proof = plan.records.find((record: Told) => record.type === 'TXT')
    outside.world.put('rider.example.', zone(`_fides IN TXT ${proof.data}\n`))
    await admin('POST', `/domains/${id}/check`)
    await until(
      'the domain can be opened',
      async () => (await admin('POST', `/domains/${id}/open`, {})).status < 300,
      60_000,
    )
    await fides.link({ domain: 'rider.example', slug: 'survey', destination: 'https://www.example/survey' })
    const begun = Date.now()
    const {
      certificate: served,
      protocol,
      alpn,
    } = await until('a certificate', () => handshake('rider.example').catch(() => undefined), 30_000)
    expect(served.subjectaltname).toBe('DNS:rider.example')
    expect(protocol).toBe('TLSv1.3')
    expect(alpn).toBe('h2')
    expect(Date.now() - begun).toBeLessThan(30_000)
    const answered = await secure('rider.example', '/survey')
    expect(answered).toMatchObject({ ':status': 302, location: 'https://www.example/survey' })
    expect(answered['strict-transport-security']).toBeUndefined()
  })

  it('is told of on the Certificate page, and judged sound', async () => {
    const view = await until('what the front did', async () => {
      const told = await certificate()
      return told.events.length >= 2 && told.served.answered ? told : undefined
    })
    expect(view.events.map(({ kind }: Told) => kind)).toEqual(expect.arrayContaining(['obtaining', 'obtained']))
    expect(view).toMatchObject({ front: true, reach: { ok: true } })
    expect(view.served).toMatchObject({ names: ['rider.example'], fault: null })
  })

  it('still refuses names that are none of ours, whoever asks', async () => {
    for (const host of ['nobody.example', 'www.rider.example', 'coming.example'])
      await expect(handshake(host), host).rejects.toThrow()
    const control = `http://127.0.0.1:${fides.system.settings.FIDES_GATEWAY_CONTROL_PORT}`
    const ask = async (name: string) => (await fetch(`${control}/ask?domain=${name}`)).status
    expect(await ask('rider.example')).toBe(200)
    expect(await ask('RIDER.example.')).toBe(200)
    for (const name of ['nobody.example', '', 'rider.example%00', '..', 'coming.example'])
      expect(await ask(name), name).toBe(403)
  })

  it('is answered from memory: asking takes no longer than what needs no table at all, but for a little', async () => {
    const control = `http://127.0.0.1:${fides.system.settings.FIDES_GATEWAY_CONTROL_PORT}`
    const times: Record<string, number[]> = { '/ready': [], '/ask?domain=rider.example': [] }
    for (let index = 0; index < 60; index++)
      for (const [path, taken] of Object.entries(times)) {
        const began = performance.now()
        await (await fetch(control + path)).text()
        taken.push(performance.now() - began)
      }
    const [plain, ask] = Object.values(times).map((taken) => taken.sort((a, b) => a - b)[30]!)
    expect(ask!).toBeLessThan(3 * plain! + 1)
  })
})

describe('who comes by http', () => {
  it('is answered there, until the domain wishes https', async () => {
    expect(await plain('rider.example', '/survey')).toEqual({ status: 302, location: 'https://www.example/survey' })
    expect((await change({ httpsOnly: true })).status).toBe(200)
    await until('the gateway knows', async () => (await plain('rider.example', '/survey')).status === 308)
    expect(await plain('rider.example', '/survey?from=poster')).toEqual({
      status: 308,
      location: 'https://rider.example/survey?from=poster',
    })
    expect((await secure('rider.example', '/survey'))[':status']).toBe(302)
  })

  it('is not fooled by a stranger’s own fields', async () => {
    const { status } = await fides.visit('rider.example/survey', { headers: { 'x-forwarded-proto': 'http' } })
    // From a trusted peer this is believed; through the front a stranger’s word never arrives.
    expect(status).toBe(308)
    const through = await new Promise<number>((resolve, reject) =>
      httpRequest(
        {
          host: '127.0.0.1',
          port: settings.FIDES_FRONT_HTTP_PORT,
          path: '/survey',
          headers: { host: 'rider.example', 'x-forwarded-proto': 'https', forwarded: 'proto=https;for=203.0.113.9' },
        },
        (response) => resolve(response.resume().statusCode!),
      )
        .on('error', reject)
        .end(),
    )
    expect(through).toBe(308)
  })

  it('tells browsers to come by https alone only after a trial', async () => {
    expect((await change({ hstsSeconds: 31_536_000 })).body.errors[0]).toMatchObject({ pointer: '/hstsSeconds' })
    expect((await change({ hstsSeconds: 86_400 })).status).toBe(200)
    await until(
      'the field',
      async () => (await secure('rider.example', '/survey'))['strict-transport-security'] === 'max-age=86400',
    )
    expect((await change({ httpsOnly: false })).body.errors[0]).toMatchObject({ pointer: '/httpsOnly' })
    expect((await change({ hstsSeconds: 31_536_000 })).status).toBe(422)
    await fides.db.Domain.update({ hstsSince: new Date(Date.now() - 8 * 86_400_000) }, { where: { id } })
    expect((await change({ hstsSeconds: 31_536_000 })).status).toBe(200)
    // Taken back, it is said so to browsers that hold it (RFC 6797 §6.1.1).
    expect((await change({ hstsSeconds: 0 })).status).toBe(200)
    await until(
      'the field taken back',
      async () => (await secure('rider.example', '/survey'))['strict-transport-security'] === 'max-age=0',
    )
  })
})

describe('a certificate', () => {
  it('is renewed before it ends, and nobody notices', async () => {
    const before = (await handshake('rider.example')).certificate.serialNumber
    await until(
      'another certificate',
      async () => {
        const now = await handshake('rider.example')
        expect(Date.parse(now.certificate.valid_to)).toBeGreaterThan(Date.now())
        await new Promise((resolve) => setTimeout(resolve, 500))
        return now.certificate.serialNumber !== before
      },
      VALID_SECONDS * 1000,
    )
    const events = await until('what the front did', async () => {
      const kinds = (await certificate()).events.map(({ kind }: Told) => kind)
      return kinds.includes('renewed') ? kinds : undefined
    })
    expect(events).toEqual(expect.arrayContaining(['renewing', 'renewed']))
  }, 90_000)

  it('that CAA forbids is not asked for, and the case says why', async () => {
    const { body: second } = await admin('POST', '/domains', { host: 'shut.example' })
    outside.world.put(
      'shut.example.',
      zone('@ IN CAA 0 issue "other.example"\n').replaceAll('rider.example', 'shut.example'),
    )
    const { body: plan } = await admin('GET', `/domains/${second.id}/plan`)
    const proof = plan.records.find((record: Told) => record.type === 'TXT')
    outside.world.put(
      'shut.example.',
      zone(`@ IN CAA 0 issue "other.example"\n_fides IN TXT ${proof.data}\n`).replaceAll(
        'rider.example',
        'shut.example',
      ),
    )
    await admin('POST', `/domains/${second.id}/check`)
    await until(
      'it can be opened',
      async () => (await admin('POST', `/domains/${second.id}/open`, {})).status < 300,
      60_000,
    )
    await until(
      'the case',
      async () => (await cases('caa-shuts-out')).some(({ domain: of }) => of?.id === second.id),
      60_000,
    )
    const control = `http://127.0.0.1:${fides.system.settings.FIDES_GATEWAY_CONTROL_PORT}`
    await until('the gateway knows', async () => (await fetch(`${control}/ask?domain=shut.example`)).status === 403)
    await expect(handshake('shut.example')).rejects.toThrow()
    const { body: view } = await admin('GET', `/domains/${second.id}/certificate`)
    expect(view.caa.allowed).toBe(false)
    expect(view.events).toEqual([])
    // The name itself is answered all the same.
    expect((await plain('shut.example', '/nothing')).status).toBe(404)
  }, 120_000)

  it('that cannot be renewed opens a case before it ends, with the authority’s own words', async () => {
    await pebble.stop()
    const found = await until(
      'the case',
      async () => {
        await handshake('rider.example').catch(() => undefined)
        return (await cases('certificate-ending')).find(({ domain: of }) => of?.id === id)
      },
      60_000,
    )
    expect(found.headline).toMatch(/ends in less than a day and was not renewed/)
  }, 120_000)

  it('and all else stands in a folder that nobody else can open', () => {
    const home = frontFolder(fides.system)
    expect(existsSync(join(home, 'store'))).toBe(true)
  })
})
