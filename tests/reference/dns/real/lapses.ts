import { expect } from 'vitest'
import { ask, type ServerAddress } from '../../../../server/names/ask'
import { GATEWAY, type Desk } from './desk'
import { nsupdate } from './orders'
import { note } from './table'
import type { Maker } from './zones'

/** How many switches are played; `npm run test:lapses` plays 60 with TTLs up to a minute. */
const LAPSES = Number(process.env.FIDES_LAPSES ?? 16)
const LONGEST = Number(process.env.FIDES_LAPSES_TTL ?? 12)
const KINDS = ['present', 'absent', 'chain', 'wildcard'] as const

/** A switch whose old answer lapses. */
export interface Lapse {
  origin: string
  kind: (typeof KINDS)[number]
  /** What resolvers may hold the old answer for, in seconds. */
  ttl: number
  maker: Maker
  text: string
}

export const LAPSE_LIST: readonly Lapse[] = Array.from({ length: LAPSES }, (_, index) => {
  const kind = KINDS[index % KINDS.length]!
  const ttl = 5 + Math.round(((LONGEST - 5) * (index >> 2)) / Math.max(1, (LAPSES >> 2) - 1))
  const old = {
    present: `go ${ttl} A 198.51.100.7\n`,
    absent: '',
    chain: `go ${ttl} CNAME one\none ${Math.max(1, ttl - 2)} A 198.51.100.7\n`,
    wildcard: `* ${ttl} A 198.51.100.9\n`,
  }[kind]
  // "No such record" is held for the smaller of the SOA’s TTL and MINIMUM (RFC 2308 §5); else it is not to matter.
  const negative = kind === 'absent' ? ttl : 1
  return {
    origin: `l${index}.example.`,
    kind,
    ttl,
    maker: index % 3 === 2 ? 'knot' : 'named',
    text: `$TTL 300\n@ SOA ns1 hostmaster ( 1 7200 900 1209600 ${negative} )\n@ NS ns1\nns1 A 192.0.2.1\n${old}`,
  }
})

/** Where switches are played: who serves each maker's zones, and the resolvers that hold old answers. */
export interface LapseWorld {
  desk: Desk
  servers: Partial<Record<Maker, { server: ServerAddress; address: string }>>
  resolvers: Record<string, ServerAddress>
}
/** The zone of the gateway's own name. */
export const FRONT = '$TTL 300\n@ SOA ns1 h 1 5 5 60 5\n@ NS ns1\nns1 A 192.0.2.3\nlinks A 192.0.2.80\n'

const sleep = (milliseconds: number) => new Promise((resolve) => setTimeout(resolve, milliseconds))

/** What a resolver gives for a name and type: the new alias, an old answer, or nothing on a busy machine. */
async function givenTo(resolver: ServerAddress, name: string, type: string): Promise<'new' | 'old' | 'nothing'> {
  const asked = await ask(resolver, name, type, { recursive: true })
  if (!asked.ok || !['NOERROR', 'NXDOMAIN'].includes(asked.message.rcode)) return 'nothing'
  const isAlias = asked.message.answer.some((record) => record.type === 'CNAME' && record.data === GATEWAY.name)
  return isAlias ? 'new' : 'old'
}

/** What a resolver gives to A and AAAA together: old while one of them is, new when both are. */
async function given(resolver: ServerAddress, name: string): Promise<'new' | 'old' | 'nothing'> {
  const types = await Promise.all(['A', 'AAAA'].map((type) => givenTo(resolver, name, type)))
  return types.find((each) => each === 'old') ?? types.find((each) => each === 'nothing') ?? 'new'
}

/** Has a resolver hold the old answers to both types. */
async function fill(resolver: ServerAddress, name: string): Promise<void> {
  for (const type of ['A', 'AAAA']) {
    let tries = 0
    while ((await givenTo(resolver, name, type)) !== 'old') expect(++tries, `filling ${name}`).toBeLessThan(10)
  }
}

/** Plays one switch: caches are filled, the alias is placed, and both resolvers watched until they lead here. */
async function playLapse({ desk, servers, resolvers }: LapseWorld, lapse: Lapse): Promise<void> {
  const name = `go.${lapse.origin}`
  const { server, address } = servers[lapse.maker]!
  const id = await desk.domain(name.slice(0, -1), 'proved', lapse.origin, [{ name: 'ns1', address }])
  await desk.look(id)
  // What that look left in the caches must be gone, so that they are filled anew just before the change.
  await sleep((lapse.ttl + 2) * 1000)
  const filledAt = Date.now()
  await Promise.all(Object.values(resolvers).map((resolver) => fill(resolver, name)))
  const changed = await nsupdate(server, lapse.origin, [
    ...(lapse.kind === 'present' ? [`update delete ${name} A`] : []),
    ...(lapse.kind === 'chain' ? [`update delete ${name} CNAME`] : []),
    `update add ${name} 300 CNAME ${GATEWAY.name}`,
  ])
  expect(changed).toBe('')
  const at = Date.now()
  await desk.look(id)
  const first = await desk.sighting(id)
  expect(first.changedAt).toBeDefined()

  const seenAt: Record<string, number> = {}
  /** When a resolver was last asked and still gave the old: so long it held it at the least. */
  const heldAt: Record<string, number> = {}
  let told = first.everyoneBy!
  const rises: number[] = []
  const give = at + (lapse.ttl + 10) * 1000
  const isOver = () => Object.keys(seenAt).length === Object.keys(resolvers).length || Date.now() > give
  const watchOne = async (label: string, resolver: ServerAddress) => {
    while (!isOver() && seenAt[label] === undefined) {
      const asked = Date.now()
      const answer = await given(resolver, name)
      if (answer === 'new') seenAt[label] = Date.now()
      else {
        if (answer === 'old') heldAt[label] = asked
        await sleep(50)
      }
    }
  }
  // Looked at again and again meanwhile: what is told may only come nearer.
  const lookOn = async () => {
    while (!isOver()) {
      await desk.look(id)
      const again = (await desk.sighting(id)).everyoneBy!
      if (again > told) rises.push(again - told)
      told = again
      await sleep(2000)
    }
  }
  await Promise.all([...Object.entries(resolvers).map(([label, resolver]) => watchOne(label, resolver)), lookOn()])
  const last = Math.max(...Object.values(seenAt))
  // What is told to everyone counts from when the change was seen; the caches were filled from `filledAt` on.
  const delay = (first.changedAt! - filledAt) / 1000
  const line = (world: string, by: number | undefined, seen: number | undefined, held: number) => {
    // Early where the old was given after the moment told; the new may have come a little before it was seen.
    const late =
      by === undefined || seen === undefined
        ? Number.NaN
        : held > by
          ? (by - held) / 1000
          : Math.max(0, by - seen) / 1000
    note({
      scenario: `lapse ${lapse.kind}, ${lapse.ttl} s`,
      world,
      says: by === undefined ? 'nothing' : `by ${((by - at) / 1000).toFixed(1)} s after the change`,
      does: seen === undefined ? 'never' : `new after ${((seen - at) / 1000).toFixed(1)} s`,
      verdict: Number.isNaN(late) ? 'false' : late < 0 ? 'early' : 'late',
      by: Math.abs(late),
    })
    expect(late, `${world} ${JSON.stringify(lapse)}`).toBeGreaterThanOrEqual(0)
    expect(late, `${world} ${JSON.stringify(lapse)}`).toBeLessThanOrEqual(2 + delay)
  }
  expect(Object.keys(seenAt).sort()).toEqual(Object.keys(resolvers).sort())
  expect(rises).toEqual([])
  line(`everyone, at ${lapse.maker}`, first.everyoneBy, last, Math.max(at, ...Object.values(heldAt)))
  for (const [label, seen] of Object.entries(seenAt)) {
    const forecast = first.resolvers.find((each) => each.server === label)
    // Where it led here at once, nothing was held.
    if (forecast && seen - at > 1000) line(label, forecast.by, seen, heldAt[label] ?? at)
  }
}

/** Plays switches side by side, a little apart, so that looks do not wait for one another; gives what went wrong. */
export async function playLapses(world: LapseWorld, lapses: readonly Lapse[]): Promise<string[]> {
  const played = lapses.map((lapse, index) => sleep(index * 150).then(() => playLapse(world, lapse)))
  const outcomes = await Promise.allSettled(played)
  return outcomes.flatMap((outcome) => (outcome.status === 'rejected' ? [String(outcome.reason)] : []))
}
