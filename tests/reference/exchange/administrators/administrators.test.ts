// Files in the manner of administrators are loaded by the real servers, and imported here as a person imports them:
// read, decided, applied, and served from the database’s rows. Every address they name and its neighbours are asked of
// both. Reference: Debian’s apache2 2.4 and nginx.
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { Table } from '../../../../core/table'
import { tableNow } from '../../../../server/usecases/replay/tables'
import { TestRegister } from '../../../usecases/register'
import { askTable, asLed, neighboursOf, spoiledOf } from '../as-gateway'
import { startApache, startNginx, type RealServer } from '../servers'
import { APACHE_FIRST } from './apache-first'
import { APACHE_SECOND } from './apache-second'
import { APACHE_THIRD } from './apache-third'
import { NGINX_FIRST } from './nginx-first'
import { NGINX_SECOND } from './nginx-second'
import { NGINX_THIRD } from './nginx-third'
import { addHost, importFiles, type Told } from './whole-import'

const APACHE = [...APACHE_FIRST, ...APACHE_SECOND, ...APACHE_THIRD]
const NGINX = [...NGINX_FIRST, ...NGINX_SECOND, ...NGINX_THIRD]
const apacheHost = (index: number) => `apache-${index}.example`
const nginxHost = (index: number) => `nginx-${index}.example`
const nginxText = (index: number) => {
  const { text, beside = '' } = NGINX[index]!
  // Variables are of the whole server: those of each file get names of their own.
  const apart = (words: string) => words.replace(/\$(moved\w*|to|target)\b/g, `$$$1_${index}`)
  return apart(`${beside}\nserver { listen 127.0.0.1:\${PORT}; server_name ${nginxHost(index)};\n${text}\n}`)
}

let register: TestRegister
let apache: RealServer
let nginx: RealServer
let table: Table
const told = new Map<string, Told>()

beforeAll(async () => {
  register = await TestRegister.start()
  apache = await startApache(
    APACHE.map(({ context, text, files, base = '/' }, index) => ({
      host: apacheHost(index),
      files,
      ...(context === 'server'
        ? { server: `ServerName ${apacheHost(index)}\nServerAlias other-${index}.example\n${text}` }
        : { folders: { [base]: text } }),
    })),
  )
  nginx = await startNginx(
    NGINX.map((_, index) => nginxText(index)).join('\n'),
    Object.assign({}, ...NGINX.map(({ files }) => files ?? {})) as Record<string, string>,
  )
  // All of them before the first import: a domain that is made here has no entry in the ledger.
  for (const index of APACHE.keys()) await addHost(register, apacheHost(index))
  for (const index of NGINX.keys()) await addHost(register, nginxHost(index))
  for (const [index, { text, context, base, files = {} }] of APACHE.entries()) {
    const host = apacheHost(index)
    told.set(host, await importFiles(register, host, 'apache', { 'site.conf': text, ...files }, { context, base }))
  }
  for (const [index, { files = {} }] of NGINX.entries()) {
    const host = nginxHost(index)
    told.set(host, await importFiles(register, host, 'nginx', { 'site.conf': nginxText(index), ...files }))
  }
  table = await tableNow(register.db)
}, 300_000)
afterAll(async () => {
  await Promise.all([apache?.stop(), nginx?.stop()])
  await register?.stop()
})

interface Case {
  asks: string[]
  refused?: readonly (number | string)[]
  differs?: { path: RegExp; told: number | RegExp }[]
}

/** Escapes in one writing: `%c3` and `%C3` are equivalent (RFC 3986 §6.2.2.1). */
const sameHex = (text: string) => text.replace(/%[0-9a-f]{2}/gi, (escape) => escape.toUpperCase())

/** Asks a real server and our table the same addresses; gives what differs and is told of no line. */
async function compare(server: RealServer, host: string, { asks, differs = [] }: Case): Promise<number> {
  const { refused, remarks } = told.get(host)!
  const isTold = (what: number | RegExp) =>
    [...refused, ...remarks].some(({ line, sentence }) =>
      typeof what === 'number' ? line === what : what.test(sentence),
    )
  const used = new Set<RegExp>()
  const targets = new Set([...neighboursOf(asks), ...spoiledOf(asks)].filter((target) => target.startsWith('/')))
  for (const target of targets) {
    const [real, ours] = [sameHex(asLed(await server.ask(host, target))), sameHex(asLed(askTable(table, host, target)))]
    // Told of every file: several slashes are one there.
    if (real === ours || /\/\//.test(target)) continue
    const known = differs.find(({ path }) => path.test(target))
    if (!known) {
      expect.soft(`${target} ${ours}`).toBe(`${target} ${real}`)
      continue
    }
    expect.soft(isTold(known.told), `${known.told} is told`).toBe(true)
    used.add(known.path)
  }
  expect.soft(used.size, 'every difference named is one').toBe(differs.length)
  return targets.size
}

const linesOf = (list: readonly { line: number }[]) => [...new Set(list.map(({ line }) => line))].sort((a, b) => a - b)

describe('Apache and an import of its file answer alike', () => {
  it.each(APACHE.map((file, index) => [file.name, file, apacheHost(index)] as const))(
    '%s',
    async (_name, file, host) => {
      expect.soft(linesOf(told.get(host)!.refused)).toEqual(file.refused ?? [])
      await compare(apache, host, file)
    },
  )
})

describe('nginx and an import of its file answer alike', () => {
  it.each(NGINX.map((file, index) => [file.name, file, nginxHost(index)] as const))('%s', async (_name, file, host) => {
    // Lines of the file as it was written: a server and what stands beside it come before.
    const above = (file.beside ?? '').split('\n').length + 1
    expect.soft(linesOf(told.get(host)!.refused).map((line) => line - above)).toEqual(file.refused ?? [])
    await compare(nginx, host, file)
  })
})
