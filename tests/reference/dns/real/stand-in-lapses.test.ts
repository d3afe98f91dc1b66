import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { NamesWorld } from '../../../../standins/names/world'
import { Desk, namesOf, type Ways } from './desk'
import { FRONT, LAPSE_LIST, playLapses, type Lapse, type LapseWorld } from './lapses'
import { KEY } from './programs'
import { writeTable } from './table'

/** The same switches as at real servers. */
const LAPSES: readonly Lapse[] = LAPSE_LIST.map((lapse) => ({ ...lapse, maker: 'stand-ins' }))

let names: NamesWorld
let world: LapseWorld
beforeAll(async () => {
  names = await NamesWorld.start({ authorityPorts: [0], resolverPorts: [0], keys: [KEY] })
  for (const { origin, text } of LAPSES) names.put(origin, text)
  names.put('front.example.', FRONT)
  const server = { host: '127.0.0.1', port: names.authorities[0]!.port }
  const resolver = { host: '127.0.0.1', port: names.resolvers[0]!.port }
  const ways: Ways = new Map([['192.0.2.1:53', server]])
  world = {
    desk: await Desk.start(namesOf([{ name: 'stand-in', ...resolver }], ways)),
    servers: { 'stand-ins': { server, address: '192.0.2.1' } },
    resolvers: { 'stand-in': resolver },
  }
}, 120_000)
afterAll(async () => {
  process.stdout.write(`${writeTable(process.env.FIDES_LAPSES !== undefined)}\n`)
  await world?.desk.stop()
  await names?.stop()
})

describe('the forecast against old answers lapsing in our stand-in resolver', () => {
  it('is never early, at most two seconds late, and never rises while nothing changes', async () => {
    expect(await playLapses(world, LAPSES)).toEqual([])
  }, 300_000)
})
