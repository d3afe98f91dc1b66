import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { freePort } from '../../../../scripts/ports'
import { dig } from '../bind'
import { realWorld, standInWorld } from './health-worlds'
import { nsupdate } from './orders'
import { Stage, top, zonesOf } from './stage'
import { note, writeTable } from './table'

const ZONES = zonesOf(['away', 'beside', 'unseen'])

let stage: Stage
describe.each([
  ['real name servers', realWorld],
  ['our stand-ins', standInWorld],
] as const)('%s', (_, start) => {
  beforeAll(async () => (stage = await Stage.start(start, ZONES)), 120_000)
  afterAll(() => stage?.stop())

  describe('records that are not what they should be', () => {
    it('an address gone elsewhere is told with one dot, and settles', async () => {
      const id = await stage.open('away')
      await stage.desk.look(id)
      await nsupdate(stage.world.primary, 'away.example.', [
        'update delete go.away.example. CNAME',
        'update add go.away.example. 60 CNAME far.elsewhere.example.',
      ])
      await stage.desk.look(id)
      await stage.told(
        'an alias led away',
        id,
        'address-changed',
        /now answer far\.elsewhere\.example for CNAME.*It should have CNAME links\.front\.example\.$/,
        (await dig(stage.world.primary.port, 'go.away.example', 'CNAME')).answer.join(),
      )
      await nsupdate(stage.world.primary, 'away.example.', [
        'update delete go.away.example. CNAME',
        'update add go.away.example. 60 CNAME links.front.example.',
      ])
      await stage.desk.look(id)
      await stage.told(
        'an alias led back',
        id,
        undefined,
        /./,
        (await dig(stage.world.primary.port, 'go.away.example', 'CNAME')).answer.join(),
      )
    })

    it('a further record beside the right one is told as that', async () => {
      await nsupdate(stage.world.primary, 'beside.example.', ['update add beside.example. 60 A 192.0.2.80'])
      const id = await stage.desk.domain('beside.example', 'open', 'beside.example.', [
        { name: 'ns1.beside.example', address: '192.0.2.1' },
      ])
      await stage.desk.look(id)
      expect(await stage.kinds(id)).toEqual([])
      await nsupdate(stage.world.primary, 'beside.example.', ['update add beside.example. 60 A 203.0.113.9'])
      await stage.desk.look(id)
      await stage.told(
        'a record beside',
        id,
        'record-beside',
        /give the right A 192\.0\.2\.80 and A 203\.0\.113\.9 beside it/,
        (await dig(stage.world.primary.port, 'beside.example', 'A')).answer.join('; '),
      )
    })

    it('a case that cannot be seen any more says so, and settles after repair', async () => {
      const port = await freePort()
      const gone = top().replace(/^go .*\n/m, '')
      const second = await stage.world.serve('unseen.example.', gone, { port })
      const id = await stage.open('unseen', second)
      await stage.looks(id, 1)
      await stage.told(
        'one server without the record',
        id,
        'one-server-changed',
        /ns2\.unseen\.example answers no such record/,
        (await dig(port, 'go.unseen.example', 'CNAME')).rcode,
      )
      await second.stop()
      await stage.looks(id)
      const row = (await stage.desk.cases(id)).find(({ kind }) => kind === 'one-server-changed')!
      const holds = /It cannot be seen any more whether that is so: ns2\.unseen\.example gives no answer since/.test(
        row.sentence,
      )
      note({
        scenario: 'a case nobody can see',
        world: stage.world.maker,
        says: row.sentence,
        does: 'no answer',
        verdict: holds ? 'true' : 'false',
      })
      expect(row.sentence).toMatch(/It cannot be seen any more/)
      await stage.looks(id)
      expect((await stage.desk.cases(id)).find(({ kind }) => kind === 'one-server-changed')!.sentence).toBe(
        row.sentence,
      )
      await stage.world.serve('unseen.example.', top(), { port })
      await stage.desk.look(id)
      await stage.told('repaired', id, undefined, /./, (await dig(port, 'go.unseen.example', 'CNAME')).rcode)
    })
  })
})

afterAll(() => void process.stdout.write(`${writeTable()}\n`))
