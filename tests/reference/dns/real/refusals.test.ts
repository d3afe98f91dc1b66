import { execFile } from 'node:child_process'
import { mkdirSync } from 'node:fs'
import { join } from 'node:path'
import { promisify } from 'node:util'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { makeZone } from '../../../../core/dns'
import type { TsigKey } from '../../../../core/dns/wire'
import { freePort } from '../../../../scripts/ports'
import type { ServerAddress } from '../../../../server/names/ask'
import { transferZone } from '../../../../server/names/transfer'
import { pushChange } from '../../../../server/names/update'
import { NamesWorld } from '../../../../standins/names/world'
import { nsupdate, rndc } from './orders'
import { environment, KEY, startKnot, startNamed, startUnbound, type Program } from './programs'
import { note, writeTable } from './table'
import { FIXED, FROZEN, FULL, OWN, TRANSFERS, UPDATES, type Refusal } from './refusal-scenarios'

const ZONE = `$TTL 60
@ SOA ns1 hostmaster ( 7 7200 900 1209600 60 )
@ NS ns1
ns1 A 192.0.2.1
go A 198.51.100.7
`

/** The stand-ins’ clock, which does not go off with ours. */
const began = Date.now() - performance.now()
const now = () => Math.floor((began + performance.now()) / 1000)

const servers: Record<string, ServerAddress> = {}
const programs: Program[] = []
let world: NamesWorld
let control: number
let held: Program

beforeAll(async () => {
  control = await freePort()
  const zones = { [OWN]: { text: ZONE }, [FIXED]: { text: ZONE, fixed: true } }
  const named = await startNamed(
    {
      ...zones,
      [FROZEN]: { text: ZONE },
      // A journal that cannot be written, as on a full disk.
      [FULL]: { text: ZONE, policy: 'journal "full";', prepare: (folder) => mkdirSync(join(folder, 'full')) },
    },
    { control },
  )
  const knot = await startKnot(zones)
  held = await startNamed(zones)
  const second = await startNamed({ [OWN]: { from: named } })
  const knotSecond = await startKnot({ [OWN]: { from: named } })
  const never = await startNamed({ [OWN]: { from: { host: '127.0.0.1', port: 1 } } })
  const unbound = await startUnbound({ [OWN]: [named] })
  programs.push(named, knot, held, second, knotSecond, never, unbound)
  world = await NamesWorld.start({ authorityPorts: [0, 0], resolverPorts: [0], keys: [KEY], now })
  world.put(OWN, ZONE)
  world.put(FIXED, ZONE)
  world.authorities[0]!.fixed = [FIXED]
  const at = (port: number) => ({ host: '127.0.0.1', port })
  Object.assign(servers, {
    named,
    knot,
    'stand-ins': at(world.authorities[0]!.port),
    held,
    second,
    'knot second': knotSecond,
    'stand-in second': at(world.authorities[1]!.port),
    never,
    unbound,
    nothing: at(await freePort()),
  })
  const give = Date.now() + 30_000
  for (const secondary of ['second', 'knot second'])
    while (!(await transferZone(servers[secondary]!, OWN, KEY).then(({ ok }) => ok || secondary === 'knot second')))
      if (Date.now() > give) throw new Error(`${secondary} never took the zone`)
}, 120_000)
afterAll(async () => {
  process.stdout.write(`${writeTable()}\n`)
  held?.goOn()
  await Promise.all([...programs.map((program) => program.stop()), world?.stop()])
})

const keyed = (key: Refusal['key']): TsigKey | undefined => (key === null ? undefined : { ...KEY, ...key })

const befall = async (what: Refusal['during']) => {
  if (what === 'frozen') await rndc(control, 'freeze', FROZEN)
  if (what === 'held') held.hold()
}
const release = async (what: Refusal['during']) => {
  if (what === 'frozen') await rndc(control, 'thaw', FROZEN)
  if (what === 'held') held.goOn()
}

/** Runs something with our clock put off. */
async function withClock<T>(off: number | undefined, run: () => Promise<T>): Promise<T> {
  const real = Date.now
  if (off !== undefined) Date.now = () => real() + off * 1000
  try {
    return await run()
  } finally {
    Date.now = real
  }
}

const each = (list: readonly Refusal[]) =>
  list.flatMap((refusal) => refusal.at.map((at) => [refusal.name, at, refusal] as const))

/** Asks for the zone with dig; gives what it says where it does not get it. */
async function digTransfer({ host, port }: ServerAddress, origin: string, key: TsigKey | undefined): Promise<string> {
  const auth = key ? ['-y', `hmac-sha256:${key.name}:${Buffer.from(key.secret).toString('base64')}`] : []
  const ran = promisify(execFile)(
    'dig',
    [`@${host}`, '-p', String(port), ...auth, origin, 'AXFR', '+tries=1', '+time=3'],
    { env: environment },
  )
  const { stdout } = await ran.catch((error: { stdout?: string; message: string }) => ({
    stdout: error.stdout || error.message,
  }))
  return stdout
    .split('\n')
    .filter((line) => /Transfer failed|TSIG|BAD|NOTAUTH|refused|timed out|no servers/i.test(line))
    .join('; ')
}

describe('a transfer that is refused is told by its own cause', () => {
  it.each(each(TRANSFERS))('%s, at %s', async (name, at, { origin, key, off, says, does, during }) => {
    await befall(during)
    const taken = await withClock(off, () => transferZone(servers[at]!, origin, keyed(key)))
    // dig signs with the clock of the machine: there is nothing to compare with where ours was put off.
    const seen = off === undefined ? await digTransfer(servers[at]!, origin, keyed(key)) : 'our clock is off'
    await release(during)
    const sentence = taken.ok ? 'the zone' : taken.sentence
    const holds = !taken.ok && says.test(sentence) && does.test(seen)
    expect(
      note({ scenario: `transfer ${name}`, world: at, says: sentence, does: seen, verdict: holds ? 'true' : 'false' }),
      `${sentence} | ${seen}`,
    ).toBe(true)
  })
})

describe('an update that is refused is told by its own cause, and changes nothing', () => {
  it.each(each(UPDATES))('%s, at %s', async (name, at, { origin, key, off, says, does, during }) => {
    await befall(during)
    const record = { name: `x.${origin}`, type: 'TXT', ttl: 60, data: '"x"' }
    const tsig = keyed(key)!
    const pushed = await withClock(off, () =>
      pushChange(servers[at]!, makeZone(origin, []), { remove: [], add: [record] }, tsig),
    )
    const seen =
      off === undefined
        ? await nsupdate(servers[at]!, origin, [`update add x.${origin} 60 TXT "x"`], {
            name: tsig.name,
            key: Buffer.from(tsig.secret),
          })
        : ''
    await release(during)
    const sentence = pushed.ok ? 'taken' : pushed.sentence
    const holds = !pushed.ok && says.test(sentence) && does.test(seen)
    expect(
      note({
        scenario: `update ${name}`,
        world: at,
        says: sentence,
        does: seen || 'our clock is off',
        verdict: holds ? 'true' : 'false',
      }),
      `${sentence} | ${seen}`,
    ).toBe(true)
  })
})
