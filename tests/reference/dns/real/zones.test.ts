import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { NamesWorld } from '../../../../standins/names/world'
import { KEY, startKnot, startNamed, type Program, type Served } from './programs'
import { writeTable } from './table'
import { playZone, putIncluded } from './zone-scenarios'
import { INCLUDED, TOP, ZONE_SCENARIOS, type Maker, type ZoneScenario } from './zones'

const MAKERS: readonly Maker[] = ['named', 'knot', 'stand-ins']
const originOf = (scenario: ZoneScenario) => `z${ZONE_SCENARIOS.indexOf(scenario)}.example.`
const isFor = (scenario: ZoneScenario, maker: Maker) => scenario.makers?.includes(maker) ?? true

/** How each maker is told to sign. */
const SIGNING = {
  named: { plain: 'dnssec-policy default; inline-signing no;', hashed: 'dnssec-policy hashed; inline-signing no;' },
  knot: {
    plain: '    dnssec-signing: on\n    dnssec-policy: plain\n',
    hashed: '    dnssec-signing: on\n    dnssec-policy: hashed\n',
  },
}
const served = (maker: 'named' | 'knot'): Record<string, Served> =>
  Object.fromEntries(
    ZONE_SCENARIOS.filter((scenario) => isFor(scenario, maker)).map((scenario) => [
      originOf(scenario),
      {
        text: TOP + scenario.records,
        policy: scenario.signed ? SIGNING[maker][scenario.signed] : '',
        prepare: putIncluded(INCLUDED),
      },
    ]),
  )

let named: Program
let knot: Program
let world: NamesWorld
beforeAll(async () => {
  const hashed =
    'dnssec-policy "hashed" { keys { csk lifetime unlimited algorithm ecdsap256sha256; }; nsec3param iterations ' +
    '0 optout no salt-length 0; };'
  named = await startNamed(served('named'), { more: hashed })
  knot = await startKnot(served('knot'))
  world = await NamesWorld.start({ authorityPorts: [0], resolverPorts: [], keys: [KEY] })
  for (const scenario of ZONE_SCENARIOS)
    if (isFor(scenario, 'stand-ins')) world.put(originOf(scenario), TOP + scenario.records)
}, 120_000)
afterAll(async () => {
  process.stdout.write(`${writeTable()}\n`)
  await Promise.all([named?.stop(), knot?.stop(), world?.stop()])
})

/** Where a maker serves. */
const serverOf = (maker: Maker) =>
  maker === 'named' ? named : maker === 'knot' ? knot : { host: '127.0.0.1', port: world.authorities[0]!.port }

describe.each(MAKERS)('what Fides says of a zone and does to it, at %s', (maker) => {
  it.each(ZONE_SCENARIOS.filter((scenario) => isFor(scenario, maker)))(
    '$name',
    async (scenario) => {
      expect(await playZone(scenario, maker, serverOf(maker), originOf(scenario)), writeTable()).toBe(true)
    },
    120_000,
  )
})
