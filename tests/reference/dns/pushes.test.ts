import { execFile } from 'node:child_process'
import { writeFileSync, mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { promisify } from 'node:util'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { makeZone, switchPlan, type DnsRecord } from '../../../core/dns'
import type { RecordChange } from '../../../core/dns/wire'
import { readLiveSets } from '../../../server/names/live-sets'
import { pushChange } from '../../../server/names/update'
import { transferZone } from '../../../server/names/transfer'
import { seeded } from '../../../server/database/seed/chance'
import { dig, startNamed, type Named } from './bind'

/** How many random pushes are tried against another writer; `npm run test:pushes` tries 500. */
const TRIALS = Number(process.env.FIDES_PUSH_TRIALS ?? 24)
const ORIGIN = 'push.test.'
const ZONE = `$TTL 3600
@ SOA ns1 hostmaster ( 2026112001 7200 900 1209600 900 )
@ NS ns1
ns1 A 127.0.0.1
mail A 127.0.0.1
*.wild 90 A 198.51.100.9
*.wild 90 MX 10 mail
`

let named: Named
const folder = mkdtempSync(join(tmpdir(), 'fides-pushes-'))
beforeAll(async () => {
  named = await startNamed({ [ORIGIN]: ZONE })
  const secret = Buffer.from(named.secret).toString('base64')
  writeFileSync(join(folder, 'key'), `key "desk-key" { algorithm hmac-sha256; secret "${secret}"; };\n`)
})
afterAll(async () => {
  await named.stop()
  rmSync(folder, { recursive: true, force: true })
})

const server = () => ({ host: '127.0.0.1', port: named.port })
const key = () => ({ name: named.keyName, secret: named.secret })

/** Has Debian's nsupdate, as somebody else would, change the zone. */
async function nsupdate(...lines: string[]): Promise<void> {
  const commands = [`server 127.0.0.1 ${named.port}`, `zone ${ORIGIN}`, ...lines, 'send', ''].join('\n')
  const ran = promisify(execFile)('nsupdate', ['-t', '60', '-u', '10', '-r', '5', '-k', join(folder, 'key')])
  ran.child.stdin!.end(commands)
  await ran
}

/** What the zone holds at a name, without what a server keeps by itself. */
async function at(name: string): Promise<DnsRecord[]> {
  const taken = await transferZone(server(), ORIGIN, key())
  if (!taken.ok) throw new Error(taken.sentence)
  return taken.records.filter((record) => record.name === name)
}
const lines = (records: readonly DnsRecord[]) =>
  records.map(({ name, ttl, type, data }) => `${name} ${ttl} ${type} ${data}`).sort()

const toCname = (name: string): RecordChange => ({
  remove: [{ name, type: 'A', ttl: 300, data: '198.51.100.7' }],
  add: [{ name, type: 'CNAME', ttl: 3600, data: 'gateway.fides.test.' }],
})
const read = (name: string) => makeZone(ORIGIN, [{ name, type: 'A', ttl: 300, data: '198.51.100.7' }])

describe('a push over somebody else’s change, at named (BIND 9)', () => {
  it.each([
    ['TXT "theirs"', 'TXT'],
    ['MX 10 mail.push.test.', 'MX'],
    ['AAAA 2001:db8::7', 'AAAA'],
    ['CAA 0 issue "theirs.test"', 'CAA'],
    ['SSHFP 1 1 0123456789abcdef0123456789abcdef01234567', 'SSHFP'],
    ['HINFO "a" "b"', undefined],
    ['TYPE65280 \\# 2 abcd', undefined],
  ])('never loses the address where %s came to stand beside it (RFC 2136 §3.4.2.2)', async (theirs, known) => {
    const name = `${theirs.split(' ')[0]!.toLowerCase()}.${ORIGIN}`
    await nsupdate(`update add ${name} 300 A 198.51.100.7`, `update add ${name} 60 ${theirs}`)
    const before = lines(await at(name))
    const pushed = await pushChange(server(), read(name), toCname(name), key())
    expect(lines(await at(name))).toEqual(before)
    expect((await dig(named.port, name, 'A')).answer).toEqual([`${name} 300 IN A 198.51.100.7`])
    if (known)
      // The server refuses the whole by its prerequisites (§2.4.3): the address was not gone for a moment.
      expect(pushed).toMatchObject({ ok: false, reason: 'changed', sets: [{ type: known, expected: [] }] })
    else {
      // No list of types holds it: the server took the address away, and it was put back.
      expect(pushed).toMatchObject({ ok: false, reason: 'not-kept' })
      expect(pushed).toMatchObject({ sentence: expect.stringContaining('were undone at once') })
      expect(pushed).not.toHaveProperty('left')
    }
  })

  it('adds no address beside an alias that came meanwhile', async () => {
    const name = `alias.${ORIGIN}`
    await nsupdate(`update add ${name} 60 CNAME theirs.test.`)
    const change = { remove: [], add: [{ name, type: 'A', ttl: 3600, data: '192.0.2.80' }] }
    expect(await pushChange(server(), makeZone(ORIGIN, []), change, key())).toMatchObject({
      ok: false,
      reason: 'changed',
      sets: [{ type: 'CNAME', found: ['theirs.test.'] }],
    })
    expect(lines(await at(name))).toEqual([`${name} 60 CNAME theirs.test.`])
  })

  it.each([
    ['an alias', 'gateway.fides.test.'],
    ['addresses', undefined],
  ])(
    'takes a wildcard’s website off the air at no step, and undoing gives it back (RFC 4592 §2.2.2): %s',
    async (_, to) => {
      const name = `site${to ? 1 : 2}.wild.${ORIGIN}`
      const gateway = { name: to, ipv4: ['192.0.2.80'], ipv6: [], issuers: [] }
      const whole = async () => {
        const taken = await transferZone(server(), ORIGIN, key())
        if (!taken.ok) throw new Error(taken.sentence)
        return makeZone(ORIGIN, taken.records)
      }
      const before = await whole()
      const plan = switchPlan(before, name, 'token-3', gateway)
      // Resolvers hold what came from the wildcard for its own TTL.
      expect(plan.oldTtl).toBe(90)
      expect(plan.steps.map((step) => step.key)).toEqual(['switch', 'wait', 'open'])
      const answers = async () => (await dig(named.port, name, 'A')).answer
      expect(await answers()).toEqual([`${name} 90 IN A 198.51.100.9`])
      for (const step of plan.steps) {
        if (step.add.length + step.remove.length > 0)
          expect(await pushChange(server(), before, step, key()), step.key).toEqual({ ok: true })
        expect((await answers()).length, step.key).toBeGreaterThan(0)
      }
      expect((await dig(named.port, `_fides.${name}`, 'TXT')).answer).toHaveLength(1)
      const back = { remove: plan.steps.flatMap((step) => step.add), add: [] }
      expect(await pushChange(server(), await whole(), back, key())).toEqual({ ok: true })
      expect(await answers()).toEqual([`${name} 90 IN A 198.51.100.9`])
    },
  )

  it('takes no wildcard’s answer for a record of the name, nor one of the name for the wildcard’s', async () => {
    const name = `live.wild.${ORIGIN}`
    const sets = ['A', 'AAAA', 'MX'].map((type) => ({ name, type }))
    expect((await dig(named.port, name, 'A')).answer).toHaveLength(1)
    expect(await readLiveSets(server(), sets)).toEqual([])
    await nsupdate(`update add ${name} 60 A 203.0.113.5`)
    expect(await readLiveSets(server(), sets)).toEqual([{ name, type: 'A', ttl: 60, data: '203.0.113.5' }])
    expect(await readLiveSets(server(), [{ name: 'elsewhere.test.', type: 'A' }])).toBeUndefined()
  })

  it(`is told rightly, loses nothing and is undone whole: ${TRIALS} times against another writer`, async () => {
    const random = seeded(2136)
    const pick = <Item>(items: readonly Item[]) => items[Math.floor(random() * items.length)]!
    const outcomes: Record<string, number> = {}
    for (let trial = 0; trial < TRIALS; trial++) {
      const name = `n${trial}.${ORIGIN}`
      await nsupdate(`update add ${name} 300 A 198.51.100.7`)
      const theirs = pick([
        ['add', 'TXT "theirs"'],
        ['add', 'TYPE65280 \\# 2 abcd'],
        ['add', 'A 203.0.113.9'],
        ['add', 'MX 10 mail.push.test.'],
        ['delete', 'A 198.51.100.7'],
        ['add', 'CNAME theirs.test.'],
      ] as const)
      const writer = async () => {
        await new Promise((resolve) => setTimeout(resolve, random() * 30))
        await nsupdate(`update ${theirs[0]} ${name} ${theirs[0] === 'add' ? '60 ' : ''}${theirs[1]}`)
      }
      const [pushed] = await Promise.all([
        new Promise((resolve) => setTimeout(resolve, random() * 60)).then(() =>
          pushChange(server(), read(name), toCname(name), key()),
        ),
        writer(),
      ])
      const [type, ...data] = theirs[1].split(' ')
      const now = await at(name)
      const has = (record: string, text: string) => now.some((one) => one.type === record && one.data === text)
      const aliased = has('CNAME', 'gateway.fides.test.')
      const said = `${theirs.join(' ')}, ${JSON.stringify(pushed)}, ${lines(now).join('; ')}`
      outcomes[pushed.ok ? 'placed' : pushed.reason] = (outcomes[pushed.ok ? 'placed' : pushed.reason] ?? 0) + 1
      // Told rightly: placed means that it stands, or was replaced by what came after; else nothing of ours does.
      const replaced = theirs[0] === 'add' && type === 'CNAME' && has('CNAME', 'theirs.test.')
      if (pushed.ok) expect(aliased || replaced, said).toBe(true)
      else if (replaced && pushed.left) {
        // Placed, and replaced before it was read back: then what went for it is told to be gone.
        expect(pushed.left.remove, said).toEqual(toCname(name).remove)
        expect(pushed.sentence, said).toContain('is a CNAME to theirs.test. now')
      } else {
        expect(aliased, said).toBe(false)
        expect(pushed.left, said).toBeUndefined()
        // The address is there unless it was they who took it.
        expect(has('A', '198.51.100.7') || theirs[0] === 'delete', said).toBe(true)
      }
      // What they added stands, unless the server passed it over beside an alias, as it does for everybody.
      if (theirs[0] === 'add' && !(pushed.ok && type !== 'CNAME') && type !== 'CNAME')
        expect(
          now.some((one) => one.type === type && (one.type === 'TYPE65280' || one.data === data.join(' '))),
          said,
        ).toBe(true)
      if (!pushed.ok || !aliased) continue
      // Undone, it is what it was before, octet for octet.
      const back: RecordChange = { remove: toCname(name).add, add: toCname(name).remove }
      expect(await pushChange(server(), makeZone(ORIGIN, now), back, key()), said).toEqual({ ok: true })
      expect(lines(await at(name)), said).toEqual([`${name} 300 A 198.51.100.7`])
    }
    // Both ends of the race were run.
    expect(Object.keys(outcomes).length, JSON.stringify(outcomes)).toBeGreaterThan(1)
    if (process.env.FIDES_PUSH_TRIALS) process.stdout.write(`${JSON.stringify(outcomes)}\n`)
  }, 300_000)
})

describe('a refusal, at named (BIND 9)', () => {
  let primary: Named
  let second: Named
  beforeAll(async () => {
    primary = await startNamed({ [ORIGIN]: ZONE }, { fixed: { 'still.test.': ZONE }, anybody: true })
    second = await startNamed({}, { second: { [ORIGIN]: primary } })
    const give = Date.now() + 20_000
    while ((await dig(second.port, ORIGIN, 'SOA')).answer.length === 0)
      if (Date.now() > give) throw new Error('the secondary never took the zone')
  })
  afterAll(async () => {
    await second?.stop()
    await primary?.stop()
  })
  const push = (to: Named, origin: string, more: Partial<ReturnType<typeof key>> = {}) =>
    pushChange(
      { host: '127.0.0.1', port: to.port },
      makeZone(origin, []),
      { remove: [], add: [{ name: `x.${origin}`, type: 'TXT', ttl: 60, data: '"x"' }] },
      { name: to.keyName, secret: to.secret, ...more },
    )

  it('by the policy names the key, and that the server is the primary', async () => {
    const refused = await push(primary, 'still.test.')
    expect(refused).toMatchObject({ ok: false, reason: 'refused' })
    expect(refused).toMatchObject({
      sentence: expect.stringMatching(/\(REFUSED\): its update policy must .* desk-key/),
    })
  })
  it('of a secondary names the primary its SOA names (RFC 1035 §3.3.13)', async () => {
    const refused = await push(second, ORIGIN)
    expect(refused).toMatchObject({ ok: false, reason: 'refused' })
    expect(refused).toMatchObject({ sentence: expect.stringContaining('ns1.push.test') })
  })
  it('of a server without the zone says so (RFC 2136 §3.1.1)', async () => {
    const refused = await push(primary, 'elsewhere.test.')
    expect(refused).toMatchObject({ ok: false, reason: 'refused' })
    expect(refused).toMatchObject({
      sentence: expect.stringMatching(/is not a name server of elsewhere\.test \(NOTAUTH\)/),
    })
  })
  it.each([
    ['a key it does not know', { name: 'nobody.' }, /BADKEY/],
    ['another secret', { secret: new Uint8Array(32) }, /BADSIG/],
  ])('for %s is told by its own cause (RFC 8945 §5.2)', async (_, more, words) => {
    const refused = await push(primary, ORIGIN, more)
    expect(refused).toMatchObject({ ok: false, reason: 'key', sentence: expect.stringMatching(words) })
  })
  it.each([
    [-1200, 'ahead'],
    [1200, 'behind'],
  ])('for clocks %i s apart says by how much and whose is ahead (RFC 8945 §5.2.3)', async (off, words) => {
    const real = Date.now
    Date.now = () => real() + off * 1000
    try {
      expect(await push(primary, ORIGIN)).toMatchObject({
        ok: false,
        reason: 'key',
        sentence: expect.stringContaining(`differ by 20 minutes: the name server’s is ${words}`),
      })
    } finally {
      Date.now = real
    }
  })
})
