import type { Server } from 'node:http'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { freePort } from '../../../../scripts/ports'
import { dig } from '../bind'
import { Desk, namesOf, startFront, type Ways } from './desk'
import { realWorld, standInWorld, status, type HealthWorld } from './health-worlds'
import { nsupdate, startKnot, type Program } from './programs'
import { note, writeTable } from './table'

/** The top of a zone served by two name servers; the alias leads here, as that of a domain that is open. */
const top = (serial = 7, { refresh = 7200, expire = 1_209_600 } = {}) => `$TTL 60
@ SOA ns1 hostmaster ( ${serial} ${refresh} 1 ${expire} 60 )
@ NS ns1
@ NS ns2
ns1 A 192.0.2.1
ns2 A 192.0.2.2
go 60 CNAME links.front.example.
_fides.go TXT "fides=token"
`
const originOf = (zone: string) => `${zone}.example.`
const PLAIN = ['dead', 'hangs', 'lame', 'failing', 'behind', 'differs', 'beside', 'away', 'unseen', 'nobody', 'pair']
const ZONES = {
  ...Object.fromEntries(PLAIN.map((zone) => [originOf(zone), top()])),
  'behind.example.': top(7, { refresh: 16 }),
  'front.example.': '$TTL 60\n@ SOA ns1 h 1 5 5 60 5\n@ NS ns1\nns1 A 192.0.2.1\nlinks A 192.0.2.80\n',
  'example.': '$TTL 60\n@ SOA ns h 1 5 5 60 5\n@ NS ns\nns A 192.0.2.9\n',
}

const ways: Ways = new Map()
const programs: Program[] = []
let desk: Desk
let front: Server
let world: HealthWorld
const keep = async (program: Promise<Program>): Promise<Program> => {
  programs.push(await program)
  return programs.at(-1)!
}
const sleep = (milliseconds: number) => new Promise((resolve) => setTimeout(resolve, milliseconds))

let place = 10
/** An open domain whose second name server is reached where `second` says. */
async function open(zone: string, second?: { host: string; port: number }, others: string[] = []): Promise<number> {
  const address = `192.0.2.${++place}`
  if (second) ways.set(`${address}:53`, second)
  return desk.domain(`go.${zone}.example`, 'open', originOf(zone), [
    { name: `ns1.${zone}.example`, address: '192.0.2.1' },
    ...(second ? [{ name: `ns2.${zone}.example`, address, ...(others.length > 0 && { others }) }] : []),
  ])
}
const looks = async (id: number, times = 2) => {
  for (let time = 0; time < times; time++) await desk.look(id)
}
const kinds = async (id: number) => (await desk.cases(id)).map(({ kind }) => kind)

/** Notes what the cases say beside what the servers do. */
async function told(scenario: string, id: number, kind: string | undefined, says: RegExp, does: string) {
  const cases = await desk.cases(id)
  const row = cases.find((each) => each.kind === kind)
  const holds =
    kind === undefined ? cases.length === 0 : row !== undefined && cases.length === 1 && says.test(row.sentence)
  const sentence = cases.map((each) => `${each.kind}: ${each.sentence}`).join(' — ') || 'no case'
  expect(
    note({ scenario, world: world.maker, says: sentence, does, verdict: holds ? 'true' : 'false' }),
    sentence,
  ).toBe(true)
}

describe.each([
  ['real name servers', realWorld],
  ['our stand-ins', standInWorld],
] as const)('%s', (_, start) => {
  beforeAll(async () => {
    world = await start(ZONES)
    front = await startFront()
    ways.clear()
    ways.set('192.0.2.1:53', world.primary)
    ways.set('192.0.2.80:80', { host: '127.0.0.1', port: (front.address() as { port: number }).port })
    desk = await Desk.start(namesOf(world.resolvers, ways))
  }, 120_000)
  afterAll(async () => {
    front?.close()
    await desk?.stop()
    await world?.stop()
    await Promise.all(programs.splice(0).map((program) => program.stop()))
  })

  describe('name servers that do not do their part', () => {
    it('one that is dead is a case after two looks, and it settles when it runs', async () => {
      const port = await freePort()
      const id = await open('dead', { host: '127.0.0.1', port })
      await desk.look(id)
      expect(await kinds(id)).toEqual([])
      await desk.look(id)
      await told(
        'a dead name server',
        id,
        'server-silent',
        /does not answer at 192\.0\.2\.\d+ since/,
        await status({ port }, 'dead.example'),
      )
      const back = await world.serve('dead.example.', top(), { port })
      await desk.look(id)
      await told('a dead name server that runs again', id, undefined, /./, await status(back, 'dead.example'))
    })

    it('one that hangs, too', async () => {
      const second = await world.serve('hangs.example.', top())
      const id = await open('hangs', second)
      second.hold()
      await looks(id)
      await told(
        'a name server that hangs',
        id,
        'server-silent',
        /does not answer/,
        await status(second, 'hangs.example'),
      )
      second.goOn()
      await desk.look(id)
      await told('a name server that goes on', id, undefined, /./, await status(second, 'hangs.example'))
    })

    it('one that knows nothing of the zone is lame', async () => {
      const second = await world.serve('else.example.', top())
      const id = await open('lame', second)
      await desk.look(id)
      await told(
        'a lame name server',
        id,
        'server-lame',
        /knows nothing of the zone/,
        await status(second, 'lame.example'),
      )
    })

    it('one that never could take the zone over fails', async () => {
      const second = await world.failing('failing.example.')
      const id = await open('failing', second)
      await looks(id)
      await told(
        'a name server that fails',
        id,
        'server-failing',
        /answers SERVFAIL for failing\.example since/,
        await status(second, 'failing.example'),
      )
    })

    it('one whose copy has expired is told as that, and what is to be looked at', async () => {
      const short = top(7, { refresh: 1, expire: 4 })
      const { server: second, expire } = await world.expiring('expired.example.', short)
      const id = await desk.domain('go.expired.example', 'open', 'expired.example.', [
        { name: 'ns1.expired.example', address: '192.0.2.201' },
        { name: 'ns2.expired.example', address: '192.0.2.202' },
      ])
      // The primary is reached by us all along, and not by the secondary.
      ways.set('192.0.2.201:53', await world.serve('expired.example.', short)).set('192.0.2.202:53', second)
      await desk.look(id)
      expect(await kinds(id)).toEqual([])
      await expire()
      await looks(id)
      await told(
        'an expired copy',
        id,
        'server-expired',
        /as a secondary does that could not ask its primary, ns1\.expired\.example, for 4 seconds \(EXPIRE/,
        await status(second, 'expired.example'),
      )
    })

    it('one that is behind is told by how much and since when, and settles when it has caught up', async () => {
      const slow = top(7, { refresh: 16 })
      const second = await world.serve('behind.example.', slow)
      const id = await open('behind', second)
      await desk.look(id)
      expect(
        await nsupdate(world.primary, 'behind.example.', [
          'update add x.behind.example. 60 A 192.0.2.9',
          'send',
          'update add y.behind.example. 60 A 192.0.2.9',
        ]),
      ).toBe('')
      await desk.look(id)
      // Not yet: a secondary that only asks now and then is not behind at once.
      expect(await kinds(id)).toEqual([])
      await sleep(16_500)
      await desk.look(id)
      const serials = await Promise.all(
        [world.primary, second].map(
          async (server) => (await dig(server.port, 'behind.example', 'SOA')).answer[0]!.split(' ')[6],
        ),
      )
      await told(
        'a name server that is behind',
        id,
        'server-behind',
        /serial 7, 2 behind 9, since \d{4}-\d\d-\d\d/,
        `serials ${serials.join(' and ')}`,
      )
      expect(
        await nsupdate(second, 'behind.example.', [
          'update add x.behind.example. 60 A 192.0.2.9',
          'send',
          'update add y.behind.example. 60 A 192.0.2.9',
        ]),
      ).toBe('')
      await desk.look(id)
      await told('one that has caught up', id, undefined, /./, 'serials 9 and 9')
    })

    it('two that give different answers are told apart', async () => {
      const text = top().replace('links.front.example.', 'links.elsewhere.example.')
      // A second maker's among the real ones.
      const second =
        world.maker === 'named'
          ? await keep(startKnot({ 'differs.example.': { text } }))
          : await world.serve('differs.example.', text)
      const id = await open('differs', second)
      await desk.look(id)
      const seen = (await dig(second.port, 'go.differs.example', 'CNAME')).answer.join()
      await told(
        'two answers',
        id,
        'one-server-changed',
        /ns2\.differs\.example answers links\.elsewhere\.example for CNAME/,
        seen,
      )
    })

    it('reached over IPv6 alone is a case; an address that is dead beside one that answers, too', async () => {
      const text = top().replaceAll(/ns([12]) A 192.0.2.[12]/g, 'ns$1 AAAA 2001:db8::5$1')
      const six = await world.serve('six.example.', text, { host: '::1' })
      ways.set('2001:db8::51:53', six).set('2001:db8::52:53', six)
      const id = await desk.domain('go.six.example', 'open', 'six.example.', [
        { name: 'ns1.six.example', address: '2001:db8::51' },
        { name: 'ns2.six.example', address: '2001:db8::52' },
      ])
      await looks(id)
      const over = await dig(six.port, 'six.example', 'SOA', `@${six.host}`)
      await told('IPv6 alone', id, 'one-family', /No name server of six\.example has an IPv4 address/, over.rcode)

      const second = await world.serve('pair.example.', top())
      ways.set('2001:db8::99:53', { host: '::1', port: await freePort() })
      const both = await open('pair', second, ['2001:db8::99'])
      await looks(both)
      await told(
        'one address of two is dead',
        both,
        'server-silent',
        /does not answer at 2001:db8::99 since .*, though it does at 192\.0\.2\.\d+: resolvers that come over IPv6/,
        'no answer over IPv6',
      )
    })

    it('all of them dead is one case, not one for each', async () => {
      const id = await open('nobody', { host: '127.0.0.1', port: 1 })
      await desk.register.db.DomainWatch.update(
        {
          servers: [
            { name: 'ns1.nobody.example', address: '203.0.113.1' },
            { name: 'ns2.nobody.example', address: '203.0.113.2' },
          ],
        },
        { where: { domainId: id } },
      )
      await looks(id)
      await told('no name server answers', id, 'no-server', /None of the name servers of nobody\.example/, 'no answer')
    })
  })

  describe('records that are not what they should be', () => {
    it('an address gone elsewhere is told with one dot, and settles', async () => {
      const id = await open('away')
      await desk.look(id)
      await nsupdate(world.primary, 'away.example.', [
        'update delete go.away.example. CNAME',
        'update add go.away.example. 60 CNAME far.elsewhere.example.',
      ])
      await desk.look(id)
      await told(
        'an alias led away',
        id,
        'address-changed',
        /now answer far\.elsewhere\.example for CNAME.*It should have CNAME links\.front\.example\.$/,
        (await dig(world.primary.port, 'go.away.example', 'CNAME')).answer.join(),
      )
      await nsupdate(world.primary, 'away.example.', [
        'update delete go.away.example. CNAME',
        'update add go.away.example. 60 CNAME links.front.example.',
      ])
      await desk.look(id)
      await told(
        'an alias led back',
        id,
        undefined,
        /./,
        (await dig(world.primary.port, 'go.away.example', 'CNAME')).answer.join(),
      )
    })

    it('a further record beside the right one is told as that', async () => {
      await nsupdate(world.primary, 'beside.example.', ['update add beside.example. 60 A 192.0.2.80'])
      const id = await desk.domain('beside.example', 'open', 'beside.example.', [
        { name: 'ns1.beside.example', address: '192.0.2.1' },
      ])
      await desk.look(id)
      expect(await kinds(id)).toEqual([])
      await nsupdate(world.primary, 'beside.example.', ['update add beside.example. 60 A 203.0.113.9'])
      await desk.look(id)
      await told(
        'a record beside',
        id,
        'record-beside',
        /give the right A 192\.0\.2\.80 and A 203\.0\.113\.9 beside it/,
        (await dig(world.primary.port, 'beside.example', 'A')).answer.join('; '),
      )
    })

    it('a case that cannot be seen any more says so, and settles after repair', async () => {
      const port = await freePort()
      const gone = top().replace(/^go .*\n/m, '')
      const second = await world.serve('unseen.example.', gone, { port })
      const id = await open('unseen', second)
      await looks(id, 1)
      await told(
        'one server without the record',
        id,
        'one-server-changed',
        /ns2\.unseen\.example answers no such record/,
        (await dig(port, 'go.unseen.example', 'CNAME')).rcode,
      )
      await second.stop()
      await looks(id)
      const row = (await desk.cases(id)).find(({ kind }) => kind === 'one-server-changed')!
      const holds = /It cannot be seen any more whether that is so: ns2\.unseen\.example gives no answer since/.test(
        row.sentence,
      )
      note({
        scenario: 'a case nobody can see',
        world: world.maker,
        says: row.sentence,
        does: 'no answer',
        verdict: holds ? 'true' : 'false',
      })
      expect(row.sentence).toMatch(/It cannot be seen any more/)
      await looks(id)
      expect((await desk.cases(id)).find(({ kind }) => kind === 'one-server-changed')!.sentence).toBe(row.sentence)
      await world.serve('unseen.example.', top(), { port })
      await desk.look(id)
      await told('repaired', id, undefined, /./, (await dig(port, 'go.unseen.example', 'CNAME')).rcode)
    })
  })
})

afterAll(() => void process.stdout.write(`${writeTable()}\n`))
