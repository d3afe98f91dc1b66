// npm run bench:domains: how long the list of 1,000 domains takes beside 100,000 links, and what the watch over them
// costs.
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { QueryTypes } from 'sequelize'
import { workerVariables } from '../environment/variables'
import { openDatabase } from '../server/database/open'
import { migrate } from '../server/database/migrate'
import { makeNamesContext } from '../server/names/context'
import { listCases } from '../server/usecases/docket/list-cases'
import { listDomains } from '../server/usecases/domains/list-domains'
import { makeWatch } from '../worker/watch-domains'
import { NamesWorld } from '../standins/names/world'
import { benchLink } from './bench-link'
import { startMariaDb } from './mariadb'
import { freePort } from './ports'

const DOMAINS = 1000
const LINKS = 100_000
const TIMES = 15
const WATCH_MS = 20_000
const median = (numbers: number[]) => [...numbers].sort((a, b) => a - b)[numbers.length >> 1]!
const ZONE = `$TTL 3600
@ SOA ns1 hostmaster 1 7200 900 1209600 900
@ NS ns1
@ NS ns2
ns1 A 192.0.2.53
ns2 A 198.51.100.53
* CNAME links.front.example.
`

const folder = mkdtempSync(join(tmpdir(), 'fides-bench-'))
const server = await startMariaDb(folder, await freePort())
const db = openDatabase(server.url)
const world = await NamesWorld.start({ authorityPorts: [0, 0], resolverPorts: [0, 0, 0, 0] })
let figures: object
try {
  await migrate(db.sequelize)
  const createdAt = new Date()
  await db.Organisation.create({ name: 'Bench', timeZone: 'UTC', createdAt })
  await db.Domain.bulkCreate(
    Array.from({ length: DOMAINS }, (_, index) => ({
      host: `d${index}.many.example`,
      standing: 'open' as const,
      createdAt,
      updatedAt: createdAt,
    })),
  )
  for (let made = 0; made < LINKS; made += 2000) {
    await db.Link.bulkCreate(
      Array.from({ length: 2000 }, (_, index) => made + index).map((number) =>
        benchLink({
          domainId: (number % DOMAINS) + 1,
          slug: `s/${number}`,
          destination: `https://www.example/${number}`,
          visits28: number % 500,
        }),
      ),
    )
  }
  await db.DocketCase.bulkCreate(
    Array.from({ length: 300 }, (_, index) => ({
      lane: 'domains' as const,
      kind: 'record-gone',
      caseKey: String(index).padStart(64, '0'),
      domainId: index + 1,
      linkId: null,
      subject: 'x',
      severity: 'broken' as const,
      headline: 'x',
      sentence: 'x',
      evidence: [],
      impact: index,
      openedAt: createdAt,
      seenAt: createdAt,
    })),
  )
  world.put('many.example.', ZONE)
  const names = makeNamesContext(
    workerVariables.parse({
      FIDES_DATABASE_URL: server.url,
      FIDES_SECRET: 'x'.repeat(32),
      FIDES_PUBLIC_NAME: 'links.front.example',
      FIDES_PUBLIC_ADDRESSES: '192.0.2.80',
      FIDES_CERTIFICATE_ISSUERS: 'ca.example',
      FIDES_RESOLVERS: world.resolvers.map((resolver) => `${resolver.name}=127.0.0.1:${resolver.port}`).join(','),
      FIDES_DETOURS: [
        `192.0.2.53:53=127.0.0.1:${world.authorities[0]!.port}`,
        `198.51.100.53:53=127.0.0.1:${world.authorities[1]!.port}`,
        '192.0.2.80:80=127.0.0.1:9',
        '192.0.2.80:443=127.0.0.1:9',
      ].join(','),
    }),
  )
  let stopping = false
  const watching = makeWatch(
    names,
    () => undefined,
    () => stopping,
  )(db)
  await new Promise((resolve) => setTimeout(resolve, WATCH_MS))
  stopping = true
  await watching
  const [looked] = await db.sequelize.query<{ domains: number }>(
    'SELECT COUNT(*) AS domains FROM domain_watch WHERE looked_at IS NOT NULL',
    { type: QueryTypes.SELECT },
  )

  const times = async (work: () => Promise<unknown>) => {
    const taken: number[] = []
    for (let time = 0; time < TIMES; time++) {
      const began = performance.now()
      await work()
      taken.push(performance.now() - began)
    }
    return Number(median(taken).toFixed(1))
  }
  await db.sequelize.query('ANALYZE TABLE link, domain, docket_case, domain_watch, domain_zone', {
    type: QueryTypes.SELECT,
  })
  const modelsMs = await times(() => db.Domain.findAll({ order: ['id'] }))
  const first = performance.now()
  await listDomains(db)
  const listFirstMs = Number((performance.now() - first).toFixed(1))
  const listMs = await times(() => listDomains(db))
  const casesMs = await times(() => listCases(db, { state: 'open' }))
  const oneRowMs = await times(() => db.Domain.findByPk(1))
  figures = {
    domains: DOMAINS,
    links: LINKS,
    listFirstMs,
    listMs,
    modelsMs,
    limitMs: 100,
    ratioToLimit: Number((listMs / 100).toFixed(2)),
    casesMs,
    oneRowMs,
    looksASecond: Number((Number(looked!.domains) / (WATCH_MS / 1000)).toFixed(1)),
    questionsASecond: 48,
    rssMB: Math.round(process.memoryUsage().rss / 1e6),
  }
} finally {
  await world.stop()
  await db.sequelize.close()
  await server.stop()
  rmSync(folder, { recursive: true, force: true })
}
process.stdout.write(JSON.stringify({ bench: 'domains', ...figures }) + '\n')
