import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { Desk, namesOf, type Ways } from './desk'
import { FRONT, LAPSE_LIST, playLapses, type Lapse, type LapseWorld } from './lapses'
import { startCachingNamed, startKnot, startNamed, startUnbound, type Program, type Served } from './programs'
import { writeTable } from './table'

const programs: Program[] = []
let world: LapseWorld
beforeAll(async () => {
  const keep = async (program: Promise<Program>) => {
    programs.push(await program)
    return programs.at(-1)!
  }
  const served = (maker: Lapse['maker']): Record<string, Served> =>
    Object.fromEntries(
      LAPSE_LIST.filter((lapse) => lapse.maker === maker).map(({ origin, text }) => [origin, { text }]),
    )
  const [named, knot] = [await keep(startNamed(served('named'))), await keep(startKnot(served('knot')))]
  const front = await keep(
    startNamed({
      'front.example.': { text: FRONT },
      'example.': { text: '$TTL 300\n@ SOA ns h 1 5 5 60 5\n@ NS ns\nns A 192.0.2.3\n' },
    }),
  )
  const upstreams = {
    'front.example.': [front],
    'example.': [front],
    ...Object.fromEntries(LAPSE_LIST.map(({ origin, maker }) => [origin, [maker === 'named' ? named : knot]])),
  }
  const [unbound, caching] = [await keep(startUnbound(upstreams)), await keep(startCachingNamed(upstreams))]
  const ways: Ways = new Map([
    ['192.0.2.1:53', named],
    ['192.0.2.2:53', knot],
  ])
  const resolvers = [
    { name: 'unbound', host: unbound.host, port: unbound.port },
    { name: 'named', host: caching.host, port: caching.port },
  ]
  world = {
    desk: await Desk.start(namesOf(resolvers, ways)),
    servers: { named: { server: named, address: '192.0.2.1' }, knot: { server: knot, address: '192.0.2.2' } },
    resolvers: { unbound, named: caching },
  }
}, 120_000)
afterAll(async () => {
  process.stdout.write(`${writeTable(process.env.FIDES_LAPSES !== undefined)}\n`)
  await world?.desk.stop()
  await Promise.all(programs.map((program) => program.stop()))
})

describe('the forecast against old answers lapsing in unbound and a caching named', () => {
  it('is never early, at most two seconds late, and never rises while nothing changes', async () => {
    expect((await playLapses(world, LAPSE_LIST)).join('\n')).toBe('')
  }, 300_000)
})
