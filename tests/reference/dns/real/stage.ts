import type { Server } from 'node:http'
import { expect } from 'vitest'
import { Desk, namesOf, startFront, type Ways } from './desk'
import type { HealthWorld } from './health-worlds'
import type { Program } from './programs'
import { note } from './table'

/** The top of a zone served by two name servers; the alias leads here, as that of a domain that is open. */
export const top = (serial = 7, { refresh = 7200, expire = 1_209_600 } = {}) => `$TTL 60
@ SOA ns1 hostmaster ( ${serial} ${refresh} 1 ${expire} 60 )
@ NS ns1
@ NS ns2
ns1 A 192.0.2.1
ns2 A 192.0.2.2
go 60 CNAME links.front.example.
_fides.go TXT "fides=token"
`
export const originOf = (zone: string) => `${zone}.example.`

/** The zones of a stage: those named, each with an open domain's records, and what leads to them. */
export const zonesOf = (names: readonly string[]): Record<string, string> => ({
  ...Object.fromEntries(names.map((zone) => [originOf(zone), top()])),
  'front.example.': '$TTL 60\n@ SOA ns1 h 1 5 5 60 5\n@ NS ns1\nns1 A 192.0.2.1\nlinks A 192.0.2.80\n',
  'example.': '$TTL 60\n@ SOA ns h 1 5 5 60 5\n@ NS ns\nns A 192.0.2.9\n',
})

/** A world of name servers with a desk that watches open domains in it. */
export class Stage {
  private readonly programs: Program[] = []
  private place = 10

  private constructor(
    readonly world: HealthWorld,
    readonly desk: Desk,
    readonly ways: Ways,
    private readonly front: Server,
  ) {}

  static async start(
    start: (zones: Record<string, string>) => Promise<HealthWorld>,
    zones: Record<string, string>,
  ): Promise<Stage> {
    const [world, front] = [await start(zones), await startFront()]
    const ways: Ways = new Map()
    ways.set('192.0.2.1:53', world.primary)
    ways.set('192.0.2.80:80', { host: '127.0.0.1', port: (front.address() as { port: number }).port })
    return new Stage(world, await Desk.start(namesOf(world.resolvers, ways)), ways, front)
  }

  async stop(): Promise<void> {
    this.front.close()
    await this.desk.stop()
    await this.world.stop()
    await Promise.all(this.programs.map((program) => program.stop()))
  }

  /** A further program, stopped with the rest. */
  async keep(program: Promise<Program>): Promise<Program> {
    this.programs.push(await program)
    return this.programs.at(-1)!
  }

  /** An open domain whose second name server is reached where `second` says. */
  async open(zone: string, second?: { host: string; port: number }, others: string[] = []): Promise<number> {
    const address = `192.0.2.${++this.place}`
    if (second) this.ways.set(`${address}:53`, second)
    return this.desk.domain(`go.${zone}.example`, 'open', originOf(zone), [
      { name: `ns1.${zone}.example`, address: '192.0.2.1' },
      ...(second ? [{ name: `ns2.${zone}.example`, address, ...(others.length > 0 && { others }) }] : []),
    ])
  }

  async looks(id: number, times = 2): Promise<void> {
    for (let time = 0; time < times; time++) await this.desk.look(id)
  }

  kinds = async (id: number) => (await this.desk.cases(id)).map(({ kind }) => kind)

  /** Notes what the cases say beside what the servers do; without a kind there must be none. */
  async told(scenario: string, id: number, kind: string | undefined, says: RegExp, does: string): Promise<void> {
    const cases = await this.desk.cases(id)
    const row = cases.find((each) => each.kind === kind)
    const holds =
      kind === undefined ? cases.length === 0 : row !== undefined && cases.length === 1 && says.test(row.sentence)
    const sentence = cases.map((each) => `${each.kind}: ${each.sentence}`).join(' — ') || 'no case'
    expect(
      note({ scenario, world: this.world.maker, says: sentence, does, verdict: holds ? 'true' : 'false' }),
      sentence,
    ).toBe(true)
  }
}
