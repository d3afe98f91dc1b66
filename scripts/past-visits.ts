import { BlockList } from 'node:net'
import { createHash, randomBytes } from 'node:crypto'
import mariadb from 'mariadb'
import { Admission } from '../core/misses'
import { answer, compile } from '../core/table'
import { readEvent, type VisitEvent } from '../core/visits'
import { connectionConfig } from '../environment/database-url'
import { queryOf } from '../gateway/ledger'
import { readFields } from '../gateway/fields'
import { createObserver } from '../gateway/observe'
import { storeBatches } from '../shipper/batch'
import { readDomainRows, readLinkRows, readRuleRows, type LinkRow } from '../core/rows'
import { seeded } from '../server/database/seed/chance'
import { Crowd, type Poster } from '../standins/visitors/crowd'

const DAY_MS = 86_400_000
const USUAL_DAY = 1250
const PRIVACY = { honourGpc: true, keepNetwork: false }

/** Countries of the crowd, made up: its addresses are reserved ones, which have none (RFC 5737, RFC 3849). */
const COUNTRIES: [country: string, until: number][] = [
  ['PT', 0.74],
  ['ES', 0.83],
  ['GB', 0.89],
  ['FR', 0.93],
  ['DE', 0.96],
  ['BR', 0.985],
  ['US', 0.998],
  ['NO', 1],
]
function countryOf(address: string): string {
  const place = createHash('md5').update(address).digest().readUInt16BE() / 0x10000
  return COUNTRIES.find(([, until]) => place < until)![0]
}

/**
 * Fills past days with the crowd's visits: each request is answered by the table, observed as the gateway observes,
 * and stored through the same batches. Returns how many requests were stored.
 */
export async function fillPastVisits(
  databaseUrl: string,
  posters: readonly Poster[],
  days: number,
  now = Date.now(),
): Promise<number> {
  const connection = await mariadb.createConnection(connectionConfig(databaseUrl))
  try {
    const links: LinkRow[] = []
    const query = queryOf(() => connection)
    for await (const page of readLinkRows(query)) links.push(...page)
    const table = compile(await readDomainRows(query), links, 0, await readRuleRows(query))
    const random = seeded(2026)
    const crowd = new Crowd(posters, random)
    const [{ time_zone: timeZone }] = await connection.query('SELECT time_zone FROM organisation WHERE id = 1')
    const today = Math.floor(now / DAY_MS) * DAY_MS
    let stored = 0
    for (let ago = days; ago >= 0; ago--) {
      const dayStart = today - ago * DAY_MS
      // One secret a day, as the gateway has it, thrown away with the day.
      const secret = randomBytes(32)
      const observe = createObserver({
        admission: new Admission(),
        secretAt: () => secret,
        countryOf,
        trustedProxies: new BlockList(),
        privacy: () => PRIVACY,
      })
      const moments = Array.from({ length: crowd.sizeOfDay(dayStart, USUAL_DAY) }, () => crowd.momentOfDay(dayStart))
        .filter((at) => at < now)
        .sort((a, b) => a - b)
      const events: VisitEvent[] = []
      for (const at of moments) {
        const asked = crowd.request(at, ago)
        const given = answer(table, { method: asked.method, host: asked.host, target: asked.target }, at)
        const fields = readFields(Object.entries(asked.headers).flat())
        const line = observe({ remoteAddress: asked.address }, asked.method, fields, given, at)
        if (line !== undefined) events.push(readEvent(line)!)
      }
      const key = `past-${new Date(dayStart).toISOString().slice(0, 10)}`
      await storeBatches(connection, [{ key, events, cuts: [] }], timeZone)
      stored += events.length
    }
    return stored
  } finally {
    await connection.end()
  }
}
