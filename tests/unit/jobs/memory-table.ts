import { LEASE_SECONDS, mayMove, type Expected, type JobKind } from '../../../core/jobs'
import type { JobTable, Move } from '../../../server/usecases/jobs/job-table'

export interface Row {
  id: number
  state: string
  version: number
  leasedUntil: number | null
  resume: string | null
}

/** A transaction: what it holds it holds until it ends, and what it did is undone where it is rolled back. */
export class Transaction {
  readonly undo: (() => void)[] = []
  private readonly releases: (() => void)[] = []
  keep(release: () => void): void {
    this.releases.push(release)
  }
  end(commit: boolean): void {
    if (!commit) for (const act of this.undo.reverse()) act()
    for (const release of this.releases) release()
  }
}

/** Rows of long jobs in memory, with row locks and a clock that steps, as the statements of `jobTable` behave. */
export class MemoryTable implements JobTable<string, Transaction> {
  /** The database's clock, in milliseconds. */
  now = 0
  readonly rows = new Map<number, Row>()
  /** Every transition there was. */
  readonly moves: { id: number; from: string; to: string; version: number }[] = []
  private readonly locks = new Map<number, Promise<void>>()

  constructor(
    readonly kind: JobKind<string>,
    /** Lets others have their turn. */
    private readonly pause: () => Promise<void>,
  ) {}

  /** Waits for a row's lock; it is freed when its transaction ends, or by what is returned. */
  private async lock(id: number, context?: Transaction): Promise<() => void> {
    await this.pause()
    const before = this.locks.get(id)
    let release!: () => void
    const mine = new Promise<void>((resolve) => (release = resolve))
    this.locks.set(
      id,
      (before ?? Promise.resolve()).then(() => mine),
    )
    await before
    if (!context) return release
    context.keep(release)
    return () => undefined
  }

  private fits = ({ id, state, version }: Expected) => {
    const row = this.rows.get(id)
    return row && row.state === state && row.version === version ? row : undefined
  }

  async move(expected: Expected, { to, resume }: Move, context?: Transaction): Promise<boolean> {
    if (!mayMove(this.kind, expected.state, to)) throw new Error(`from ${expected.state} to ${to}`)
    const release = await this.lock(expected.id, context)
    try {
      const row = this.fits(expected)
      if (!row) return false
      const before = { ...row }
      context?.undo.push(() => {
        Object.assign(row, before)
        this.moves.pop()
      })
      this.put(row, to, resume?.state ?? null)
      return true
    } finally {
      release()
    }
  }

  private put(row: Row, to: string, resume: string | null): void {
    this.moves.push({ id: row.id, from: row.state, to, version: row.version })
    row.state = to
    row.version++
    row.leasedUntil = resume === null ? null : this.now + LEASE_SECONDS * 1000
    row.resume = resume
  }

  async beat(expected: Expected): Promise<boolean> {
    const release = await this.lock(expected.id)
    const row = this.fits(expected)
    if (row?.leasedUntil != null) row.leasedUntil = this.now + LEASE_SECONDS * 1000
    release()
    return row?.leasedUntil != null
  }

  async hold(expected: Expected, context: Transaction): Promise<boolean> {
    await this.lock(expected.id, context)
    return this.fits(expected) !== undefined
  }

  async giveBack(): Promise<number> {
    let count = 0
    for (const row of this.rows.values()) {
      const release = await this.lock(row.id)
      if (row.leasedUntil !== null && row.leasedUntil < this.now && row.resume !== null) {
        this.put(row, row.resume, null)
        count++
      }
      release()
    }
    return count
  }
}
