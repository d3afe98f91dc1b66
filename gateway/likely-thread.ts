import { parentPort, workerData } from 'node:worker_threads'
import mariadb, { type ConnectionConfig } from 'mariadb'
import { LinkIndex, rank, type IndexedLink } from '../core/misses'
import type { ToThread } from './likely'

/** Figures of visits are read anew so often. */
const VISITS_MS = 600_000
const ROWS_A_STEP = 5000
/** So many of a ranking are told: one likely, three others, and some that the table may yet refuse. */
const MAX_OFFERED = 6

// Ranks what misses may mean beside the thread that answers, so that visitors never wait for it. It is told the links,
// and reads how often each is visited from the database; without one all count the same.

const port = parentPort!
const links = new Map<number, IndexedLink>()
let visits = new Map<number, number>()
let index = LinkIndex.of([])

const counted = (link: IndexedLink): IndexedLink => ({ ...link, visits: visits.get(link.id) ?? 0 })
const rebuild = () => (index = LinkIndex.of([...links.values()].map(counted)))

port.on('message', (message: ToThread) => {
  if (message.type === 'clear') links.clear()
  else if (message.type === 'links') for (const link of message.links) links.set(link.id, link)
  else if (message.type === 'ready') {
    rebuild()
    port.postMessage({ type: 'ready', bytes: index.bytes })
  } else if (message.type === 'change') {
    for (const id of message.gone) {
      links.delete(id)
      index.drop(id)
    }
    for (const link of message.links) {
      links.set(link.id, link)
      index.put(counted(link))
    }
    if (index.isWorn) rebuild()
  } else {
    const { candidates } = rank(index, { domainId: message.domainId, path: message.path, most: MAX_OFFERED })
    port.postMessage({
      type: 'ranked',
      id: message.id,
      candidates: candidates
        // Whether one answers is for the table to say, which knows the hour.
        .filter(({ shown, probability }) => shown && probability >= message.least)
        .map(({ domainId, canonical, probability }) => ({ domainId, canonical, probability })),
    })
  }
})

async function readVisits(): Promise<void> {
  const connection = await mariadb.createConnection(workerData.connection as ConnectionConfig)
  try {
    const fresh = new Map<number, number>()
    for (let after = 0; ;) {
      const rows: { id: number; visits_28: number }[] = await connection.query(
        `SELECT id, visits_28 FROM link WHERE id > ? AND visits_28 > 0 ORDER BY id LIMIT ${ROWS_A_STEP}`,
        [after],
      )
      if (rows.length === 0) break
      for (const row of rows) fresh.set(Number(row.id), Number(row.visits_28))
      after = Number(rows.at(-1)!.id)
    }
    visits = fresh
    rebuild()
  } finally {
    await connection.end().catch(() => undefined)
  }
}

// Where the database is away, the figures of before stand.
const again = () => void readVisits().catch(() => undefined)
setInterval(again, VISITS_MS).unref()
again()
