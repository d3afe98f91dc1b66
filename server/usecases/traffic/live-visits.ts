import { QueryTypes } from 'sequelize'
import type { LiveTold } from '../../../core/schemas'
import { eventsOf, readPart } from '../../../core/visits'
import type { Database } from '../../database/open'
import { unpacked } from './visit-parts'

/** The database is asked so often for what came, once for all who listen. */
const LOOK_MS = 2000
const MINUTE_MS = 60_000
const SECOND_MS = 1000
/** So many parts are read at one look; in a rush the rest is left to the figures themselves. */
const MAX_PARTS = 40

type Listener = (told: LiveTold) => void

/** Tells visits as they come to all who listen in this process; asks nothing where nobody does. */
export class LiveVisits {
  private readonly listeners = new Set<Listener>()
  private timer: NodeJS.Timeout | undefined
  private readonly known = new Set<number>()
  /** Whether it looked since somebody began to listen. */
  private began = false
  /** Visits of the last minute, by the second. */
  private readonly seconds = new Map<number, number>()
  private last: LiveTold = { minute: 0, links: {}, cases: '', revision: 0 }

  constructor(private readonly db: Database) {}

  /** Listens until the returned function is called. What was last told is told at once. */
  listen(listener: Listener): () => void {
    this.listeners.add(listener)
    listener({ ...this.last, links: {} })
    if (this.listeners.size === 1) this.look()
    return () => {
      this.listeners.delete(listener)
      if (this.listeners.size === 0) {
        clearTimeout(this.timer)
        this.known.clear()
        this.began = false
      }
    }
  }

  private look(): void {
    clearTimeout(this.timer)
    void this.read()
      .catch(() => undefined)
      .then(() => {
        if (this.listeners.size > 0) this.timer = setTimeout(() => this.look(), LOOK_MS)
      })
  }

  private async read(): Promise<void> {
    const now = Date.now()
    const isFirst = !this.began
    const rows = await this.db.sequelize.query<{ id: number; events: number }>(
      `SELECT id, events FROM visit_part WHERE day >= ? AND fresh ORDER BY id DESC LIMIT ${MAX_PARTS}`,
      { replacements: [new Date(now - MINUTE_MS).toISOString().slice(0, 10)], type: QueryTypes.SELECT },
    )
    const fresh = rows.map(({ id }) => Number(id)).filter((id) => !this.known.has(id))
    const links: Record<number, number> = {}
    if (fresh.length > 0) {
      const parts = await this.db.sequelize.query<{ data: Buffer }>('SELECT data FROM visit_part WHERE id IN (?)', {
        replacements: [fresh],
        type: QueryTypes.SELECT,
      })
      for (const { data } of parts)
        for (const { at, kind, linkId } of eventsOf(readPart(await unpacked(data)))) {
          if (kind !== 'visit' || at < now - MINUTE_MS) continue
          const second = Math.floor(at / SECOND_MS)
          this.seconds.set(second, (this.seconds.get(second) ?? 0) + 1)
          // Whoever just began to listen has these figures already.
          if (!isFirst) links[linkId] = (links[linkId] ?? 0) + 1
        }
      for (const id of fresh) this.known.add(id)
      for (const id of this.known) if (this.known.size > MAX_PARTS * 4) this.known.delete(id)
    }
    this.began = true
    for (const second of this.seconds.keys()) if (second < (now - MINUTE_MS) / SECOND_MS) this.seconds.delete(second)
    const [cases] = await this.db.sequelize.query<{ mark: string | null }>(
      "SELECT CONCAT(COUNT(*), ' ', COALESCE(MAX(id), 0), ' ', COALESCE(SUM(version), 0)) AS mark FROM docket_case " +
        "WHERE state = 'open'",
      { type: QueryTypes.SELECT },
    )
    const [organisation] = await this.db.sequelize.query<{ revision: number }>(
      'SELECT revision FROM organisation WHERE id = 1',
      { type: QueryTypes.SELECT },
    )
    const told: LiveTold = {
      revision: Number(organisation?.revision ?? 0),
      minute: [...this.seconds.values()].reduce((sum, count) => sum + count, 0),
      links,
      cases: cases?.mark ?? '',
    }
    const isNews =
      told.minute !== this.last.minute ||
      told.revision !== this.last.revision ||
      told.cases !== this.last.cases ||
      Object.keys(links).length > 0
    this.last = told
    if (isNews) for (const listener of this.listeners) listener(told)
  }
}

let live: LiveVisits | undefined
/** The one teller of this process. */
export const liveVisits = (db: Database): LiveVisits => (live ??= new LiveVisits(db))
