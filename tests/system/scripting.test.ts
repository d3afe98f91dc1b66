import { execFile } from 'node:child_process'
import { cpSync, mkdtempSync, readFileSync, rmSync, symlinkSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join, resolve } from 'node:path'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { EXAMPLES, type Example } from '../../server/contract/examples'
import type { Operation } from '../../server/contract/operation'
import { operations } from '../../server/contract/operations'
import { TestFides, type Told, type Who } from './fides'

/** Each recipe of docs/scripting.md, by its heading, in both languages. */
const recipes = readFileSync('docs/scripting.md', 'utf8')
  .split(/^## /m)
  .slice(1)
  .map((text) => ({
    name: text.slice(0, text.indexOf('\n')),
    sh: /```sh\n([\s\S]*?)```/.exec(text)![1]!,
    ts: /```ts\n([\s\S]*?)```/.exec(text)![1]!,
  }))

/** What each prints, in the shell and in TypeScript. */
const PRINTED: Record<string, [sh: RegExp, ts: RegExp]> = {
  '1': [/^ansl\.example\/fares → https:\S+\/fares$/m, /^ansl\.example\/fares → https:\S+\/fares$/m],
  '2': [/^(\d+ ansl\.example\/harbour-day)\n\1\n$/, /^(\d+ ansl\.example\/harbour-night)\n\1\n$/],
  '3': [/fares → https:\S+\/fares\/spring\n$/, /fares → https:\S+\/fares\/summer\n$/],
  '4': [/^1 made, 1 refused\nrow 1: Only http:.+\n$/, /^1 made, 1 refused\nrow 1: Only http:.+\n$/],
  '5': [/^ansl\.example\/fares\n[\s\S]*\/n\/201\n$/, /^ansl\.example\/fares\n[\s\S]*\/n\/201\n$/],
  '6': [/^applied: 2 imported\n$/, /^applied: 2 imported\n$/],
  '7': [/^applied: [1-9]\d* changed\n$/, /^applied: [1-9]\d* changed\n$/],
  '8': [/^changed: [1-9]\d* lines\n$/, /^200\n304\n$/],
  '9': [/visits/i, /^\d+ visits\n/],
  '10': [/^302 https:\S+\/fares\/summer by administrator\n$/, /^302 https:\S+\/fares\/summer by administrator\n$/],
  '11': [/^Stop poster, Harbour Square: 120 copies, \?~=\w+\n$/, /^Bus card, Night network: 40 copies, \?~=\w+$/m],
  '12': [/^at least 2 characters\n$/, /^at least 3 characters\n$/],
}

let fides: TestFides
let folder: string
let environment: NodeJS.ProcessEnv
beforeAll(async () => {
  fides = await TestFides.start()
  await fides.link({ slug: 'fares', destination: 'https://www.portansel.example/fares', status: 302 })
  const { body } = await fides.call('administrator', 'POST', '/tokens', { name: 'Scripts', scope: 'administer' })
  // An empty folder with what the page has one put there: the client, and what it has one install.
  folder = mkdtempSync(join(tmpdir(), 'fides-recipes-'))
  cpSync('client', join(folder, 'client'), { recursive: true })
  symlinkSync(resolve('node_modules'), join(folder, 'node_modules'))
  environment = { ...process.env, DESK: fides.system.adminAddress, TOKEN: body.secret }
  for (const { name, ts } of recipes) writeFileSync(join(folder, `${parseInt(name)}.mts`), ts)
})
afterAll(async () => {
  rmSync(folder, { recursive: true, force: true })
  await fides.stop()
})

/** Runs a program to its end; gives what it printed, or throws with what it said. */
const run = (program: string, args: string[], cwd: string, more: NodeJS.ProcessEnv = {}): Promise<string> =>
  new Promise((done, fail) =>
    execFile(program, args, { cwd, env: { ...environment, ...more }, timeout: 60_000 }, (error, printed, said) =>
      error ? fail(new Error(`${error.message}\n${printed}\n${said}`)) : done(printed),
    ),
  )

describe('the recipes of docs/scripting.md', () => {
  it('are twelve, and well typed', async () => {
    expect(recipes.map(({ name }) => String(parseInt(name)))).toEqual(Object.keys(PRINTED))
    const strict = ['--noEmit', '--strict', '--skipLibCheck', '--target', 'es2022', '--module', 'esnext']
    const options = [...strict, '--moduleResolution', 'bundler', '--types', 'node', '--ignoreConfig']
    const files = recipes.map(({ name }) => join(folder, `${parseInt(name)}.mts`))
    await run('npx', ['tsc', ...options, ...files], folder)
  })
  it.each(recipes)('work: $name', async ({ name, sh }) => {
    const [inShell, inTypeScript] = PRINTED[parseInt(name)]!
    expect(await run('bash', ['-euo', 'pipefail', '-c', sh], folder)).toMatch(inShell)
    // The same once more is as the recipe says where nothing changed.
    if (parseInt(name) === 8)
      expect(await run('bash', ['-euo', 'pipefail', '-c', sh], folder)).toBe('nothing changed\n')
    expect(await run('npx', ['tsx', `${parseInt(name)}.mts`], folder)).toMatch(inTypeScript)
  })
})

describe('the script of docs/exchange.md', () => {
  it('fetches what a server redirects, and has it taken in only when it changed', async () => {
    const script = /```sh\n(#!\/bin\/sh\n[\s\S]*?)```/.exec(readFileSync('docs/exchange.md', 'utf8'))![1]!
    const into = mkdtempSync(join(folder, 'nginx-'))
    writeFileSync(join(into, 'token'), environment.TOKEN!)
    writeFileSync(join(into, 'nginx'), `#!/bin/sh\necho "nginx $*"\n`, { mode: 0o755 })
    const its = { TOKEN_FILE: `${into}/token`, DOMAIN: 'ansl.example', INTO: into, PATH: `${into}:${process.env.PATH}` }
    const fetchAll = () => run('sh', ['-c', script], into, its)
    expect(await fetchAll()).toBe('nginx -t\nnginx -s reload\n')
    const file = (part: string) => readFileSync(join(into, `ansl.example.${part}.conf`), 'utf8')
    expect(file('http')).toContain('fares')
    expect(file('server')).toContain('return 302')
    expect(await fetchAll()).toBe('')
    await fides.link({ slug: 'one-more', destination: 'https://www.portansel.example/more' })
    expect(await fetchAll()).toBe('nginx -t\nnginx -s reload\n')
  })
})

let own: TestFides
beforeAll(async () => {
  own = await TestFides.start()
  await own.link({ slug: 'fares', destination: 'https://www.portansel.example/fares' })
})
afterAll(() => own.stop())

describe('the examples of the reference', () => {
  it.each(Object.entries(EXAMPLES) as [keyof typeof operations, Example][])('work: %s', async (name, example) => {
    const operation: Operation = operations[name]
    const path =
      operation.path
        .replace('{id}', String(example.id))
        .replace('{n}', String(example.n))
        .replace(/\{\w+\}/, example.word ?? '') +
      (example.query ? `?${new URLSearchParams(example.query).toString()}` : '')
    const who: Who = operation.role === 'stranger' ? 'stranger' : operation.role
    const { version } = operation.ifMatch ? (await own.call(who, 'GET', operation.path.replace('{id}', '1'))).body : {}
    const answer = await own.call(who, operation.method, path, example.text ?? example.body, {
      ...(version !== undefined && { 'if-match': `"${version}"` }),
      ...(example.text !== undefined && { 'content-type': operation.text!.types[0]! }),
    })
    expect(answer.status, JSON.stringify(answer.body)).toBe(operation.status)
    if (operation.answer) expect(operation.answer.safeParse(answer.body).error?.issues ?? []).toEqual([])
  })
})

const LINK = { domain: 'ansl.example', destination: 'https://www.portansel.example/once', reason: 'for a test' }

// draft-ietf-httpapi-idempotency-key-header-07 §2.1 (a string of Structured Fields), §2.6 and §2.7 (what is answered).
describe('a request with an Idempotency-Key', () => {
  const send = (key: string, body: object, path = '/links', who: Who = 'editor') =>
    own.call(who, 'POST', path, body, { 'idempotency-key': key })
  const linksCalled = async (slug: string) =>
    (await own.call('viewer', 'GET', `/links?domain=ansl.example&q=${slug}`)).body.items.length

  it('is carried out once however often it comes, also at once', async () => {
    const body = { ...LINK, slug: 'once-forty' }
    const answers = await Promise.all(Array.from({ length: 40 }, () => send('"forty at once"', body)))
    expect(answers.filter(({ status }) => status !== 201 && status !== 409)).toEqual([])
    const later = await send('"forty at once"', body)
    expect(later.status).toBe(201)
    expect(later.headers.get('etag')).toBe('"1"')
    for (const { status, body: told } of answers) if (status === 201) expect(told).toEqual(later.body)
    expect(await linksCalled('once-forty')).toBe(1)
  })
  it('draws one slug where it is to draw one', async () => {
    const [first, second] = [await send('"drawn"', LINK), await send('"drawn"', LINK)]
    expect(second.body).toEqual(first.body)
    expect((await send('"drawn again"', LINK)).body.slug).not.toBe(first.body.slug)
  })
  it('with another body is refused, and changes nothing', async () => {
    await send('"mine"', { ...LINK, slug: 'once-mine' })
    expect((await send('"mine"', { ...LINK, slug: 'once-other' })).status).toBe(422)
    expect(await linksCalled('once-other')).toBe(0)
    // Another member's key of the same text is another key.
    expect((await send('"mine"', { ...LINK, slug: 'once-other' }, '/links', 'administrator')).status).toBe(201)
  })
  it('that was refused leaves the key free', async () => {
    expect((await send('"again"', { ...LINK, destination: 'ftp://x.example/' })).status).toBe(422)
    expect((await send('"again"', { ...LINK, slug: 'once-again' })).status).toBe(201)
  })
  it.each(['unquoted', '""', `"${'x'.repeat(256)}"`, '"open', '7', '"é"'])(
    'has a key that can be read, not %s',
    async (key) => {
      const answer = await send(key, { ...LINK, slug: 'once-unread' })
      expect(answer.status).toBe(400)
      expect(answer.body.detail).toContain('Idempotency-Key must be one quoted string')
    },
  )
  it('that was broken off is told so, not carried out again', async () => {
    const body = { ...LINK, slug: 'once-broken' }
    await send('"broken"', body)
    await own.db.sequelize.query("UPDATE once_key SET done = FALSE WHERE body LIKE '%once-broken%'")
    expect((await send('"broken"', body)).body.title).toBe('Under way')
    await own.db.sequelize.query(
      "UPDATE once_key SET made_at = made_at - INTERVAL 1 HOUR WHERE body LIKE '%once-broken%'",
    )
    expect((await send('"broken"', body)).body.title).toBe('Not known what became of it')
    await own.db.sequelize.query(
      "UPDATE once_key SET made_at = made_at - INTERVAL 1 DAY WHERE body LIKE '%once-broken%'",
    )
    expect((await send('"broken"', body)).status).toBe(409)
    expect(await linksCalled('once-broken')).toBe(1)
  })
})

describe('many links at once', () => {
  const send = (links: unknown[], who: Who = 'editor', more = {}) =>
    own.call(who, 'POST', '/links/many', { links, reason: 'for a test', ...more })

  it('are made and changed each by itself', async () => {
    const there = await own.link({ slug: 'many-there' })
    const { status, body } = await send([
      { ...LINK, slug: 'many-new' },
      { id: there.id, version: there.version, title: 'Changed' },
      { id: there.id, version: there.version, title: 'Too late' },
      { ...LINK, slug: 'many-there' },
      { ...LINK, slug: 'many-faulty', status: 300 },
      { id: 999_999, version: 1, title: 'Nobody' },
      7,
      null,
    ])
    expect(status).toBe(200)
    expect(body).toMatchObject({ made: 1, changed: 1, refused: 6 })
    expect(body.results.map((result: Told) => [result.index, result.status])).toEqual(
      [201, 200, 412, 409, 422, 404, 422, 422].map((code, index) => [index, code]),
    )
    expect(body.results[4].problem.errors[0].pointer).toBe('/status')
    expect(body.results[0].link).toMatchObject({ slug: 'many-new', version: 1 })
    expect((await own.call('viewer', 'GET', `/links/${there.id}`)).body.title).toBe('Changed')
  })
  it('are at least one and at most 200, and no viewer’s to make', async () => {
    expect((await send([])).status).toBe(422)
    expect((await send(Array.from({ length: 201 }, () => LINK))).status).toBe(422)
    expect((await send([LINK], 'viewer')).status).toBe(403)
    expect((await send([LINK], 'stranger')).status).toBe(401)
  })
  it('of a token held to a domain are that domain’s', async () => {
    const outside = await own.link({ slug: 'many-out', domain: 'go.example' })
    const { body: token } = await own.call('editor', 'POST', '/tokens', {
      name: 'One domain',
      scope: 'write',
      domains: ['ansl.example'],
    })
    const { body } = await own.call(
      'stranger',
      'POST',
      '/links/many',
      {
        links: [
          { ...LINK, slug: 'many-in' },
          { ...LINK, slug: 'many-not', domain: 'go.example' },
          { id: outside.id, version: outside.version, title: 'Taken' },
        ],
      },
      { authorization: `Bearer ${token.secret}` },
    )
    expect(body.results.map(({ status }: Told) => status)).toEqual([201, 403, 404])
  })
})

describe('a list', () => {
  it('is given by pages where they are asked for, each item once', async () => {
    const whole = (await own.call('viewer', 'GET', '/domains')).body
    expect(whole.next).toBeNull()
    const seen: string[] = []
    let cursor: string | null = ''
    while (cursor !== null) {
      const { body }: { body: Told } = await own.call(
        'viewer',
        'GET',
        `/domains?limit=1${cursor && `&cursor=${encodeURIComponent(cursor)}`}`,
      )
      expect(body.items.length).toBe(1)
      seen.push(body.items[0].host)
      cursor = body.next
    }
    expect(seen).toEqual(whole.items.map(({ host }: Told) => host))
    for (const wrong of ['limit=0', 'limit=201', 'limit=x', 'cursor=x', 'cursor=W10'])
      expect((await own.call('viewer', 'GET', `/domains?${wrong}`)).status, wrong).toBe(422)
  })
})
