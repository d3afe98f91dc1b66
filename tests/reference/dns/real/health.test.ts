import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { freePort } from '../../../../scripts/ports'
import { dig } from '../bind'
import { realWorld, standInWorld, status } from './health-worlds'
import { nsupdate } from './orders'
import { startKnot } from './programs'
import { originOf, Stage, top, zonesOf } from './stage'
import { writeTable } from './table'

const ZONES = {
  ...zonesOf(['dead', 'hangs', 'lame', 'failing', 'differs', 'nobody', 'pair']),
  [originOf('behind')]: top(7, { refresh: 16 }),
}

let stage: Stage
describe.each([
  ['real name servers', realWorld],
  ['our stand-ins', standInWorld],
] as const)('%s', (_, start) => {
  beforeAll(async () => (stage = await Stage.start(start, ZONES)), 120_000)
  afterAll(() => stage?.stop())

  describe('name servers that do not do their part', () => {
    it('one that is dead is a case after two looks, and it settles when it runs', async () => {
      const port = await freePort()
      const id = await stage.open('dead', { host: '127.0.0.1', port })
      await stage.desk.look(id)
      expect(await stage.kinds(id)).toEqual([])
      await stage.desk.look(id)
      await stage.told(
        'a dead name server',
        id,
        'server-silent',
        /does not answer at 192\.0\.2\.\d+ since/,
        await status({ port }, 'dead.example'),
      )
      const back = await stage.world.serve('dead.example.', top(), { port })
      await stage.desk.look(id)
      await stage.told('a dead name server that runs again', id, undefined, /./, await status(back, 'dead.example'))
    })

    it('one that hangs, too', async () => {
      const second = await stage.world.serve('hangs.example.', top())
      const id = await stage.open('hangs', second)
      second.hold()
      await stage.looks(id)
      await stage.told(
        'a name server that hangs',
        id,
        'server-silent',
        /does not answer/,
        await status(second, 'hangs.example'),
      )
      second.goOn()
      await stage.desk.look(id)
      await stage.told('a name server that goes on', id, undefined, /./, await status(second, 'hangs.example'))
    })

    it('one that is no authority for the zone is lame', async () => {
      const second = await stage.world.serve('else.example.', top())
      const id = await stage.open('lame', second)
      await stage.desk.look(id)
      await stage.told(
        'a lame name server',
        id,
        'server-lame',
        /is no authority for the zone/,
        await status(second, 'lame.example'),
      )
    })

    it('one that never could take the zone over fails', async () => {
      const second = await stage.world.failing('failing.example.')
      const id = await stage.open('failing', second)
      await stage.looks(id)
      await stage.told(
        'a name server that fails',
        id,
        'server-failing',
        /answers SERVFAIL for failing\.example since/,
        await status(second, 'failing.example'),
      )
    })

    it('one whose copy has expired is told as that, and what is to be looked at', async () => {
      const short = top(7, { refresh: 1, expire: 4 })
      const { server: second, expire } = await stage.world.expiring('expired.example.', short)
      const id = await stage.desk.domain('go.expired.example', 'open', 'expired.example.', [
        { name: 'ns1.expired.example', address: '192.0.2.201' },
        { name: 'ns2.expired.example', address: '192.0.2.202' },
      ])
      // The primary is reached by us all along, and not by the secondary.
      stage.ways.set('192.0.2.201:53', await stage.world.serve('expired.example.', short)).set('192.0.2.202:53', second)
      await stage.desk.look(id)
      expect(await stage.kinds(id)).toEqual([])
      await expire()
      await stage.looks(id)
      await stage.told(
        'an expired copy',
        id,
        'server-expired',
        /as a secondary does that could not ask its primary, ns1\.expired\.example, for 4 seconds \(EXPIRE/,
        await status(second, 'expired.example'),
      )
    })

    it('one that is behind is told by how much and since when, and settles when it has caught up', async () => {
      const slow = top(7, { refresh: 16 })
      const second = await stage.world.serve('behind.example.', slow)
      const id = await stage.open('behind', second)
      await stage.desk.look(id)
      expect(
        await nsupdate(stage.world.primary, 'behind.example.', [
          'update add x.behind.example. 60 A 192.0.2.9',
          'send',
          'update add y.behind.example. 60 A 192.0.2.9',
        ]),
      ).toBe('')
      await stage.desk.look(id)
      // Not yet: a secondary that only asks now and then is not behind at once.
      expect(await stage.kinds(id)).toEqual([])
      await stage.desk.pass(id, 17)
      await stage.desk.look(id)
      const serials = await Promise.all(
        [stage.world.primary, second].map(
          async (server) => (await dig(server.port, 'behind.example', 'SOA')).answer[0]!.split(' ')[6],
        ),
      )
      await stage.told(
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
      await stage.desk.look(id)
      await stage.told('one that has caught up', id, undefined, /./, 'serials 9 and 9')
    })

    it('two that give different answers are told apart', async () => {
      const text = top().replace('links.front.example.', 'links.elsewhere.example.')
      // A second maker's among the real ones.
      const second =
        stage.world.maker === 'named'
          ? await stage.keep(startKnot({ 'differs.example.': { text } }))
          : await stage.world.serve('differs.example.', text)
      const id = await stage.open('differs', second)
      await stage.desk.look(id)
      const seen = (await dig(second.port, 'go.differs.example', 'CNAME')).answer.join()
      await stage.told(
        'two answers',
        id,
        'one-server-changed',
        /ns2\.differs\.example answers links\.elsewhere\.example for CNAME/,
        seen,
      )
    })

    it('reached over IPv6 alone is a case; an address that is dead beside one that answers, too', async () => {
      const text = top().replaceAll(/ns([12]) A 192.0.2.[12]/g, 'ns$1 AAAA 2001:db8::5$1')
      const six = await stage.world.serve('six.example.', text, { host: '::1' })
      stage.ways.set('2001:db8::51:53', six).set('2001:db8::52:53', six)
      const id = await stage.desk.domain('go.six.example', 'open', 'six.example.', [
        { name: 'ns1.six.example', address: '2001:db8::51' },
        { name: 'ns2.six.example', address: '2001:db8::52' },
      ])
      await stage.looks(id)
      const over = await dig(six.port, 'six.example', 'SOA', `@${six.host}`)
      await stage.told('IPv6 alone', id, 'one-family', /No name server of six\.example has an IPv4 address/, over.rcode)

      const second = await stage.world.serve('pair.example.', top())
      stage.ways.set('2001:db8::99:53', { host: '::1', port: await freePort() })
      const both = await stage.open('pair', second, ['2001:db8::99'])
      await stage.looks(both)
      await stage.told(
        'one address of two is dead',
        both,
        'server-silent',
        /does not answer at 2001:db8::99 since .*, though it does at 192\.0\.2\.\d+: resolvers that come over IPv6/,
        'no answer over IPv6',
      )
    })

    it('all of them dead is one case, not one for each', async () => {
      const id = await stage.open('nobody', { host: '127.0.0.1', port: 1 })
      await stage.desk.register.db.DomainWatch.update(
        {
          servers: [
            { name: 'ns1.nobody.example', address: '203.0.113.1' },
            { name: 'ns2.nobody.example', address: '203.0.113.2' },
          ],
        },
        { where: { domainId: id } },
      )
      await stage.looks(id)
      await stage.told(
        'no name server answers',
        id,
        'no-server',
        /None of the name servers of nobody\.example/,
        'no answer',
      )
      // One of them back: it is not so any more that none answers, though the other still does not.
      const back = await stage.world.serve('nobody.example.', top())
      stage.ways.set('203.0.113.1:53', back)
      await stage.desk.look(id)
      const still = /ns2\.nobody\.example does not answer at 203\.0\.113\.2/
      await stage.told('one of two answers again', id, 'server-silent', still, await status(back, 'nobody.example'))
    })
  })
})

afterAll(() => void process.stdout.write(`${writeTable()}\n`))
