import mariadb, { type Connection, type ConnectionConfig } from 'mariadb'
import { faultInWords } from '../environment/log'
import { compile, dropLink, emptyTable, putDomain, putLink, putRules, type Table } from '../core/table'
import type { DomainRow, LinkRow, RuleRow } from '../core/rows'
import { ChangeOver, type Address } from './change-over'
import type { TableChange } from './journal'
import { readChanges, readPrivacy, readRevision } from './ledger'
import type { Privacy } from './observe'
import { readDomains, readLinks, readLinksById, readRules } from './rows'
import { createNap } from '../environment/nap'

/** How often the ledger is asked, in milliseconds; a nudge asks at once. */
const POLL_MS = 200
const RETRY_MS = 1000

/** Until the database has said what the organisation wants. */
const MOST_PRIVATE: Privacy = { honourGpc: true, keepNetwork: false }

export interface Follower {
  /** The table to answer from; the same object is patched, a new one stands here after a full load. */
  readonly table: Table
  /** The revision all of the table stands at: what waits for its moment is not in it yet. */
  readonly settledRevision: number
  /** What the organisation keeps of visitors. */
  readonly privacy: Privacy
  /** Whether the database answered last time. */
  readonly connected: boolean
  /** When it last answered, in milliseconds; `undefined` where it has not yet. */
  readonly heardAt: number | undefined
  /** Asks the ledger now rather than at the next poll. */
  nudge(): void
  stop(): Promise<void>
}

export interface FollowOptions {
  connection: ConnectionConfig
  /** A table read from the snapshot, to serve from until the database answers. */
  start?: Table
  /** Told after every change of the table, with what changed; without it the table was loaded whole. */
  changed(table: Table, change?: TableChange): void
  /** Told of a table that was loaded whole. */
  loaded?(table: Table): void
  /** Told which ids a change took out and what it put in, where it concerned links alone. */
  patched?(table: Table, gone: number[], put: { domainId: number; canonical: string }[]): void
  log(line: string): void
}

/** Follows the ledger: loads the whole table once, then patches it with each entry past its own revision. */
export function follow(options: FollowOptions): Follower {
  let table = options.start ?? emptyTable()
  let loaded = options.start !== undefined
  let connected = false
  let heardAt: number | undefined
  let privacy = MOST_PRIVATE
  let stopped = false
  let told = false
  let connection: Connection | undefined
  const nap = createNap()
  const changeOver = new ChangeOver((gone, links) => {
    patch(table, gone, links)
    options.patched?.(table, [...new Set(links.map(({ id }) => id))], [...links])
    options.changed(table, { gone, links })
  })

  async function load(from: Connection): Promise<void> {
    // Read the revision first: what changes during the load is patched again afterwards, which does no harm.
    const revision = await readRevision(from)
    const fresh = compile(await readDomains(from), [], revision)
    for await (const links of readLinks(from)) for (const link of links) putLink(fresh, link)
    putRules(fresh, await readRules(from))
    table = fresh
    changeOver.clear()
    loaded = true
    options.changed(table)
    options.loaded?.(table)
  }

  async function catchUp(from: Connection): Promise<void> {
    for (;;) {
      const changes = await readChanges(from, table.revision)
      if (changes.length === 0) return
      const told: { gone: Address[]; links: LinkRow[]; domains?: DomainRow[]; rules?: RuleRow[] } = {
        gone: [],
        links: [],
      }
      if (changes.some((change) => change.kind === 'domain')) {
        const known = new Map([...table.domains].map(([id, part]) => [id, part.domain]))
        const domains = await readDomains(from)
        // A change in how slugs are read moves every link of the domain: load again.
        const reread = domains.some((domain) => {
          const before = known.get(domain.id)
          return (
            before &&
            (before.capitalsMatter !== domain.capitalsMatter ||
              before.trailingSlashMatters !== domain.trailingSlashMatters)
          )
        })
        if (reread) return load(from)
        for (const domain of domains) putDomain(table, domain)
        told.domains = domains
      }
      const linkChanges = changes.filter((change) => change.kind === 'link')
      for (const [liveAt, some] of byMoment(linkChanges)) {
        const ids = [...new Set(some.map((change) => change.id))]
        const gone = some.flatMap((change) => change.canonicals)
        const links = await readLinksById(from, ids)
        if (liveAt !== undefined && liveAt > Date.now()) {
          changeOver.keep(liveAt, Math.min(...some.map(({ revision }) => revision)), gone, links)
          continue
        }
        const now = changeOver.sift(some, links)
        patch(table, now.gone, now.links)
        told.gone.push(...now.gone)
        for (const link of now.links) told.links.push(link)
        if (some.length > 0) options.patched?.(table, ids, now.links)
      }
      if (changes.some((change) => change.kind === 'organisation')) privacy = await readPrivacy(from)
      if (changes.some((change) => change.kind === 'rule')) putRules(table, (told.rules = await readRules(from)))
      table.revision = changes.at(-1)!.revision
      options.changed(table, told)
    }
  }

  async function run(): Promise<void> {
    while (!stopped) {
      try {
        if (!connection?.isValid()) {
          connection = await mariadb.createConnection(options.connection)
          connection.on('error', () => undefined)
        }
        // A ledger behind our own table means another database stands here now: nothing we hold is to be trusted.
        if (!loaded || (!connected && (await readRevision(connection)) < table.revision)) await load(connection)
        await catchUp(connection)
        if (!connected) privacy = await readPrivacy(connection)
        if (!connected) options.log(`following the ledger from revision ${table.revision}`)
        connected = true
        heardAt = Date.now()
      } catch (error) {
        if (connected || (!loaded && !told))
          options.log(`database does not answer (${faultInWords(error)}); serving revision ${table.revision}`)
        told = true
        connected = false
        connection?.destroy()
        connection = undefined
      }
      if (stopped) break
      await nap.sleep(connected ? POLL_MS : RETRY_MS)
    }
    await connection?.end().catch(() => undefined)
  }

  const running = run()
  return {
    get table() {
      // At the very moment, whoever asks first: a timer would come at another time in each process.
      if (changeOver.next !== Infinity) {
        const now = Date.now()
        if (now >= changeOver.next) changeOver.take(now)
      }
      return table
    },
    get settledRevision() {
      return Math.min(table.revision, changeOver.settledRevision)
    },
    get privacy() {
      return privacy
    },
    get connected() {
      return connected
    },
    get heardAt() {
      return heardAt
    },
    nudge: nap.wake,
    async stop() {
      stopped = true
      nap.wake()
      await running
    },
  }
}

/** Takes out what stood under old addresses, then puts each link as it is now. */
function patch(
  table: Table,
  before: readonly { domainId: number; canonical: string }[],
  links: readonly LinkRow[],
): void {
  for (const { domainId, canonical } of before) dropLink(table, domainId, canonical)
  for (const link of links) putLink(table, link)
}

/** Changes by the moment from which they count: those that count at once first. */
function byMoment<Change extends { liveAt: number | undefined }>(
  changes: readonly Change[],
): Map<number | undefined, Change[]> {
  const groups = new Map<number | undefined, Change[]>([[undefined, []]])
  for (const change of changes) {
    const at = change.liveAt !== undefined && change.liveAt > Date.now() ? change.liveAt : undefined
    const group = groups.get(at)
    if (group) group.push(change)
    else groups.set(at, [change])
  }
  return groups
}
