import type { Transaction } from 'sequelize'
import { HEARTBEAT_SECONDS, type Expected } from '../../../core/jobs'
import type { JobTable, JobValue, Move, Resume } from './job-table'

/** Whoever works lost the lease: the job was cancelled, or given back while the process stood still. */
export class LeaseLost extends Error {
  constructor() {
    super('This work belongs to nobody or to somebody else by now; nothing of it counts.')
  }
}

/** Work on one job under a lease. */
export class LeasedWork<State extends string, Context = Transaction> {
  private readonly aborter = new AbortController()
  private isDone = false
  /** Whether it was stopped because it took longer than its kind allows. */
  tookTooLong = false

  private constructor(
    private readonly table: JobTable<State, Context>,
    readonly expected: Expected<State>,
  ) {}

  /** Begins work on a job as it was read; `undefined` where somebody else was faster. */
  static async begin<State extends string, Context = Transaction>(
    table: JobTable<State, Context>,
    from: Expected<State>,
    to: State,
    resume: Resume<State>,
    values: Readonly<Record<string, JobValue>> = {},
  ): Promise<LeasedWork<State, Context> | undefined> {
    if (!(await table.move(from, { to, resume, values }))) return undefined
    return LeasedWork.held(table, { id: from.id, state: to, version: from.version + 1 })
  }

  /** Work whose lease was taken already, as when another thread goes on with it. */
  static held<State extends string, Context = Transaction>(
    table: JobTable<State, Context>,
    expected: Expected<State>,
  ): LeasedWork<State, Context> {
    return new LeasedWork(table, expected)
  }

  /** Aborts once the lease is lost, or the work took too long. */
  get signal(): AbortSignal {
    return this.aborter.signal
  }

  /** Stops the work in this process, whose lease somebody has just taken away. */
  stop(): void {
    this.aborter.abort()
  }

  /** Throws where the lease is known to be lost. */
  check(): void {
    if (this.signal.aborted) throw new LeaseLost()
  }

  /** Extends the lease and notes progress; throws LeaseLost where the work counts no more. */
  async beat(progress?: Readonly<Record<string, JobValue>>): Promise<void> {
    this.check()
    if (await this.table.beat(this.expected, progress)) return
    // A heartbeat that crosses with the end of the work finds nothing, which is no loss.
    if (!this.isDone) this.aborter.abort()
    throw new LeaseLost()
  }

  /** Within a transaction: throws LeaseLost unless the work counts until the transaction ends. */
  async hold(context: Context): Promise<void> {
    this.check()
    if (await this.table.hold(this.expected, context)) return
    this.aborter.abort()
    throw new LeaseLost()
  }

  /** Ends the work; throws LeaseLost where it counts no more. */
  async finish({ to, values }: Omit<Move<State>, 'resume'>, context?: Context): Promise<void> {
    if (!(await this.table.move(this.expected, { to, values }, context))) {
      this.aborter.abort()
      throw new LeaseLost()
    }
    this.isDone = true
  }

  /** Does `work` with a heartbeat beside it; stops it after the longest time the kind allows. */
  async run<Result>(work: () => Promise<Result>): Promise<Result> {
    const maxSeconds = this.table.kind.working[this.expected.state]!
    let beating = Promise.resolve()
    const timer = setInterval(() => {
      // A database that is away is no loss: the lease says so once it is back.
      beating = beating.then(() => this.beat()).catch(() => undefined)
    }, HEARTBEAT_SECONDS * 1000)
    const overdue = setTimeout(() => {
      this.tookTooLong = true
      this.aborter.abort()
    }, maxSeconds * 1000)
    try {
      return await work()
    } finally {
      clearInterval(timer)
      clearTimeout(overdue)
      await beating
    }
  }
}
