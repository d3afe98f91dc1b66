// What is written for Apache and nginx is loaded by them, and asked all addresses and their neighbours: the answers are
// the gateway's. Reference: Debian’s apache2 2.4 and nginx.
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { WRITERS } from '../../../core/formats/write'
import { TRIALS, withDifferences } from '../../../core/formats/write/trial/differences'
import { answer } from '../../../core/table'
import { asLed, neighboursOf, spoiledOf } from './as-gateway'
import { AT, DEMO, makeRegister } from './registers'
import { startApache, startNginx, type RealServer } from './servers'

const REGISTERS = [...Array.from({ length: 40 }, (_, seed) => makeRegister(seed)), ...DEMO]
const written = (kind: 'apache' | 'nginx') => REGISTERS.map(({ outgoing }) => WRITERS[kind](outgoing))
const hostOf = (seed: number) => REGISTERS[seed]!.outgoing.domain.host

let apache: RealServer
let nginx: RealServer
beforeAll(async () => {
  apache = await startApache(
    written('apache').map(({ files }, seed) => ({ host: hostOf(seed), server: files[0]!.text })),
  )
  const parts = written('nginx')
  const http = parts.map(({ files }) => files[0]!.text).join('\n')
  const servers = parts.map(
    ({ files }, seed) => `server { listen 127.0.0.1:\${PORT}; server_name ${hostOf(seed)};\n${files[1]!.text}\n}`,
  )
  nginx = await startNginx(http + servers.join('\n'))
})
afterAll(async () => {
  await apache?.stop()
  await nginx?.stop()
})

/** Whether two answers differ in how a character of the destination is written only. */
function samePlace(a: string, b: string): boolean {
  const plain = (text: string) => decodeURIComponent(text).trim()
  return plain(a) === plain(b)
}

let asked = 0
describe.each([
  ['apache', () => apache],
  ['nginx', () => nginx],
] as const)('%s answers as the gateway does', (kind, server) => {
  it.each(REGISTERS.map((register, seed) => [seed, register] as const))('register %i', async (_seed, register) => {
    const { domain, table } = register.outgoing
    const file = WRITERS[kind](register.outgoing)
    const trial = TRIALS[kind]!(file)
    const { cannot } = withDifferences(kind, register.outgoing, file)
    expect.soft(cannot.find(({ code }) => code === 'otherwise')?.subjects ?? []).toEqual([])
    for (const target of [...neighboursOf(register.asks), ...spoiledOf(register.asks)]) {
      const { status, location, ruleId } = answer(table, { method: 'GET', host: domain.host, target }, AT)
      const ours = asLed({ status, location })
      const real = asLed(await server().ask(domain.host, target))
      asked++
      // Our own reading of the file, by which differences are listed, is the server’s.
      if (!/^\/\/|%|[^\w/.~?=&-]/.test(target)) expect.soft(asLed(trial(target)), `trial of ${target}`).toBe(real)
      if (real === ours) continue
      // On the list of what this server cannot say, for just such addresses.
      const told = (code: string) => cannot.some((one) => one.code === code)
      const pattern = register.outgoing.rules.find(({ id }) => id === ruleId)?.pattern ?? ''
      if (cannot.some(({ code, subjects }) => code === 'conditions' && subjects.includes(pattern))) continue
      if (told('leading-slashes') && target.startsWith('//')) continue
      if (told('captures') && /[^\w/.~?=&-]/.test(target.replace(/\?.*/, '')) && samePlace(real, ours)) continue
      const capitals = told('capitals') && /[A-Z]/.test(target)
      expect.soft(capitals ? real.toLowerCase() : real, target).toBe(capitals ? ours.toLowerCase() : ours)
    }
  })
})

it('asks enough of them', () => {
  expect(asked).toBeGreaterThan(50_000)
})
