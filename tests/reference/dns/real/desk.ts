import { createServer, type Server } from 'node:http'
import type { DnsName, DomainStanding } from '../../../../core/dns'
import { readReachNonce, reachProof } from '../../../../environment/secrets'
import type { NamesContext } from '../../../../server/names/context'
import type { KnownServer } from '../../../../server/database/models/domain-watch'
import { lookAtDomain } from '../../../../server/usecases/domains/look-at-domain'
import { readOverview } from '../../../../server/usecases/domains/domain-overview'
import { findDomain } from '../../../../server/usecases/domains/find-domain'
import type { ServerAddress } from '../../../../server/names/ask'
import { TestRegister } from '../../../usecases/register'

export const GATEWAY = { name: 'links.front.example.', ipv4: ['192.0.2.80'], ipv6: [] as string[], issuers: [] }

const REACH_KEY = Buffer.alloc(32, 2)

/** Where outside addresses of a test are really reached. */
export type Ways = Map<string, ServerAddress>

/** What an installation is told of a world of real servers. */
export function namesOf(resolvers: NamesContext['resolvers'], ways: Ways): NamesContext {
  return {
    gateway: GATEWAY,
    resolvers,
    // Nothing listens at port 1: what has no way is refused at once.
    way: (host, port) => ways.get(`${host}:${port}`) ?? { host: '127.0.0.1', port: 1 },
    mayAsk: () => true,
    front: false,
    watchMs: 60_000,
    ttlSpeed: 1,
    sealingKey: Buffer.alloc(32, 1),
    reachKey: REACH_KEY,
  }
}

/** A gateway's front as a domain must reach it: answers for its name as ours does, and for nothing else. */
export async function startFront(): Promise<Server> {
  const server = createServer((request, response) => {
    const nonce = readReachNonce(request.url ?? '')
    const host = (request.headers.host ?? '').replace(/:\d+$/, '')
    response.writeHead(nonce === undefined ? 404 : 200, { 'content-type': 'text/plain' })
    response.end(nonce === undefined ? '' : `${reachProof(REACH_KEY, host, nonce)}\n`)
  })
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
  return server
}

/** The desk’s side without any process of ours: domains in a private MariaDB, looked at when a test says so. */
export class Desk {
  private constructor(
    readonly register: TestRegister,
    readonly names: NamesContext,
  ) {}

  static async start(names: NamesContext): Promise<Desk> {
    return new Desk(await TestRegister.start(), names)
  }

  /** Puts a domain into the register as it would be by then; its name servers are given, not looked for. */
  async domain(host: string, standing: DomainStanding, origin: DnsName, servers: KnownServer[]): Promise<number> {
    const { db } = this.register
    const createdAt = new Date()
    const row = await db.Domain.create({
      host,
      standing,
      capitalsMatter: false,
      proofToken: 'token',
      createdAt,
      updatedAt: createdAt,
    })
    await db.DomainWatch.upsert({
      domainId: row.id,
      dueAt: createdAt,
      zoneOrigin: origin,
      servers,
      serversAt: new Date(createdAt.getTime() + 3_600_000),
    })
    return row.id
  }

  /** Has what was seen of a domain so far begun earlier by some seconds, as if that time had passed. */
  async pass(id: number, seconds: number): Promise<void> {
    await this.register.db.sequelize.query(
      'UPDATE observation SET first_at = DATE_SUB(first_at, INTERVAL :seconds SECOND) WHERE domain_id = :id',
      { replacements: { id, seconds } },
    )
  }

  look = (id: number) => lookAtDomain(this.register.db, this.names, id)

  async sighting(id: number) {
    const { db } = this.register
    return (await readOverview(db, this.names, await findDomain(db, id), new Date())).sighting
  }

  /** The cases of a domain that are not settled. */
  async cases(id: number) {
    return this.register.db.DocketCase.findAll({ where: { domainId: id, state: 'open' }, order: [['id', 'ASC']] })
  }

  stop = () => this.register.stop()
}
