// npm run bench:traffic: questions about the visits of 90 days, of all time and of the last hours, on the server.
// 10 million visits of 100,000 links are laid down as raw visits and counted as the worker counts them; for a hundred
// million their sums are laid down ten times over. One argument: millions of visits.
import { randomBytes } from 'node:crypto'
import { QueryTypes } from 'sequelize'
import { trafficQuery, TRAFFIC_GROUPS, type TrafficQuery } from '../core/schemas'
import { dayText, dayOf, writePart, type VisitPart } from '../core/visits'
import type { Database } from '../server/database/open'
import { answerTraffic } from '../server/usecases/traffic/answer-traffic'
import { rollVisits } from '../server/usecases/traffic/roll-visits'
import { SecondThread } from '../server/usecases/traffic/second-thread'
import { packed } from '../server/usecases/traffic/visit-parts'
import { VisitStore } from '../server/usecases/traffic/visit-store'
import { fillLinks, quantile, round } from './bench-load'
import { BenchSystem, print } from './bench-system'
import { runCommand } from './run-command'

const LINKS = 100_000
const MILLIONS = Number(process.argv[2] ?? 10)
const DAYS = 90
const A_PART = 100_000
const system = await BenchSystem.make()

const COUNTRIES = ['PT', 'ES', 'GB', 'FR', 'DE', 'BR', 'US', 'NO', '']
const TEXTS: Record<string, string[]> = {
  kind: ['visit', 'visit', 'visit', 'visit', 'visit', 'visit', 'visit', 'robot', 'preview', 'page'],
  outcome: ['redirect'],
  path: [''],
  referrer: ['', '', ...Array.from({ length: 400 }, (_, n) => `site${n}.example`)],
  country: COUNTRIES,
  language: ['pt', 'es', 'en', 'de', 'fr', ''],
  device: ['mobile', 'mobile', 'desktop', 'tablet', ''],
  system: ['Android', 'iOS', 'Windows', 'macOS', 'Linux'],
  browser: ['Chrome', 'Safari', 'Firefox', 'Microsoft Edge', 'Samsung Internet for Android'],
  mended: [''],
  channel: ['', '', '', ...Array.from({ length: 300 }, (_, n) => `m${n}`)],
  network: [''],
}
// A cheap generator: what is measured is counting.
let seed = 20261127
const random = () => {
  seed ^= seed << 13
  seed ^= seed >>> 17
  seed ^= seed << 5
  return (seed >>> 0) / 0x100000000
}
/** Links are visited as unevenly as they are: half of all visits go to a hundredth of them. */
const anyLink = () => 1 + Math.floor(LINKS * random() ** 4)

function makePart(day: number, length: number, visitors: Uint8Array[]): VisitPart {
  const numbers = (make: () => number) => Uint32Array.from({ length }, make)
  const tokens = new Uint8Array(length * 8)
  for (let row = 0; row < length; row++) tokens.set(visitors[Math.floor(random() * visitors.length)]!, row * 8)
  return {
    day,
    length,
    numbers: {
      time: numbers(() => Math.floor(random() * 86_400_000)),
      domainId: numbers(() => 1 + Math.floor(random() * 3)),
      linkId: numbers(anyLink),
      ruleId: numbers(() => 0),
      status: numbers(() => 302),
    },
    texts: Object.fromEntries(
      Object.entries(TEXTS).map(([column, given]) => {
        const words = [...new Set(given)]
        const codes = given.map((word) => words.indexOf(word))
        return [column, { words, codes: numbers(() => codes[Math.floor(random() * codes.length)]!) }]
      }),
    ) as VisitPart['texts'],
    tokens,
  }
}

async function fillVisits(db: Database, now: number): Promise<void> {
  const aDay = Math.round((MILLIONS * 1_000_000) / DAYS)
  for (let ago = DAYS - 1; ago >= 0; ago--) {
    const day = dayOf(now) - ago
    const visitors = Array.from({ length: Math.ceil(aDay * 0.7) }, () => new Uint8Array(randomBytes(8)))
    for (let left = aDay; left > 0; left -= A_PART) {
      const part = makePart(day, Math.min(left, A_PART), visitors)
      await db.sequelize.query('INSERT INTO visit_part (day, fresh, events, data) VALUES (?, FALSE, ?, ?)', {
        replacements: [dayText(day), part.length, await packed(writePart(part))],
      })
    }
  }
}

/** Lays the sums of the months and days there are down again, as those of earlier ones. */
async function layOlder(db: Database, times: number): Promise<void> {
  const select = (sql: string) => db.sequelize.query<Record<string, unknown>>(sql, { type: QueryTypes.SELECT })
  const days = await select("SELECT DATE_FORMAT(day, '%Y-%m-%d') AS day, zone, seen FROM traffic_day ORDER BY day")
  const oldest = Date.parse(days[0]!.day as string) / 86_400_000
  for (let back = 1; back <= DAYS * (times - 1); back++) {
    const from = days[back % days.length]!.day
    await db.sequelize.query(
      'INSERT INTO traffic_day (day, zone, seen, data) SELECT ?, zone, seen, data FROM traffic_day WHERE day = ?',
      { replacements: [dayText(oldest - back), from] },
    )
  }
}

const median = (times: number[]) => round(quantile(times, 0.5))
const p95 = (times: number[]) => round(quantile(times, 0.95))

await runCommand(system, async () => {
  const db = await system.startDatabase()
  await db.Organisation.update({ timeZone: 'Europe/Lisbon' }, { where: { id: 1 } })
  await fillLinks(system.databaseUrl, 1, LINKS)
  await db.sequelize.query("INSERT IGNORE INTO tag (name) VALUES ('season'), ('posters'), ('night'), ('ferry')")
  await db.sequelize.query(
    'INSERT IGNORE INTO link_tag (link_id, tag_id) SELECT l.id, t.id FROM link l JOIN tag t ON t.id % 4 = l.id % 4',
  )
  const now = Date.now()
  print(`laying down ${MILLIONS} million visits`)
  await fillVisits(db, now)
  const second = new SecondThread()
  const store = new VisitStore(db, second)
  const began = performance.now()
  const days = await rollVisits(store, { now })
  const counting = (performance.now() - began) / 1000
  print(`counted ${days} days in ${counting.toFixed(1)} s`)
  const [size] = await db.sequelize.query<{ raw: number; sums: number }>(
    `SELECT (SELECT SUM(LENGTH(data)) FROM visit_part) AS raw, (SELECT SUM(LENGTH(data)) FROM traffic_day) AS sums`,
    { type: QueryTypes.SELECT },
  )

  const at = (daysAgo: number) => new Date(now - daysAgo * 86_400_000).toISOString()
  const ask = async (given: object, times: number[]) => {
    const query: TrafficQuery = trafficQuery.parse({ to: new Date(now).toISOString(), ...given })
    const from = performance.now()
    const told = await answerTraffic(store, query, { now })
    times.push(performance.now() - from)
    return told
  }
  const FILTERS: object[] = [{}, { country: 'PT' }, { device: 'mobile', country: 'ES' }, { tag: 'season' }]
  const fresh = new VisitStore(db)
  const cold = performance.now()
  await answerTraffic(fresh, trafficQuery.parse({ from: at(89), to: at(0), by: 'device', country: 'PT' }), { now })
  const coldSeconds = (performance.now() - cold) / 1000

  const [ninety, all, live, hundred]: number[][] = [[], [], [], []]
  // Once for the memory, then measured.
  for (const times of [[], ninety!])
    for (const by of TRAFFIC_GROUPS) for (const filter of FILTERS) await ask({ from: at(89), by, ...filter }, times)
  for (const times of [[], all!])
    for (const by of TRAFFIC_GROUPS)
      for (const filter of FILTERS) await ask({ from: '2020-01-01T00:00:00Z', by, ...filter }, times)
  for (const times of [[], live!]) for (let n = 0; n < 20; n++) await ask({ from: at(2 / 24), by: 'link' }, times)
  print(`laying down the sums of ${MILLIONS * 10} million`)
  await layOlder(db, 10)
  await rollVisits(store, { now })
  let total = 0
  for (const times of [[], hundred!])
    for (const by of TRAFFIC_GROUPS) total = (await ask({ from: '2020-01-01T00:00:00Z', by }, times)).total
  await second.stop()
  await system.leave()
  print(
    JSON.stringify({
      bench: 'traffic',
      visits: MILLIONS * 1_000_000,
      links: LINKS,
      countedSeconds: round(counting),
      rawMegabytesAMillion: round(Number(size!.raw) / 1e6 / MILLIONS),
      sumsMegabytesAMillion: round(Number(size!.sums) / 1e6 / MILLIONS),
      ninetyDays: {
        questions: ninety!.length,
        p50Ms: median(ninety!),
        p95Ms: p95(ninety!),
        mostMs: round(Math.max(...ninety!)),
      },
      allTime: { p50Ms: median(all!), p95Ms: p95(all!), mostMs: round(Math.max(...all!)) },
      lastHours: { p50Ms: median(live!), p95Ms: p95(live!) },
      tenfold: { visits: total, p50Ms: median(hundred!), p95Ms: p95(hundred!), mostMs: round(Math.max(...hundred!)) },
      coldSeconds: round(coldSeconds),
      memoryMegabytes: Math.round(process.memoryUsage().rss / 1e6),
    }),
  )
})
