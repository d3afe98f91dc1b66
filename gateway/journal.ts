import { randomBytes } from 'node:crypto'
import { createReadStream, existsSync } from 'node:fs'
import { stat } from 'node:fs/promises'
import { createInterface } from 'node:readline'
import type { TableChange } from '../core/ledger-follower'
import { patchTable, type Table } from '../core/table'
import { DISK, writeAll, type Disk } from '../environment/disk'

/** Lines that the disk refuses are kept up to this many bytes; beyond, only a snapshot can make the files whole. */
const MAX_KEPT = 1 << 26

type Change = Partial<TableChange>

interface Line extends Change {
  /** Who wrote it, and its number: a number that is missing means that a change is missing. Absent in old files. */
  writer?: string
  number?: number
  revision: number
}

/**
 * Changes since the snapshot, one line each, in a file beside it: a gateway that starts without the database has them,
 * and a million links are not written again for one of them. While a snapshot is written, the changes before it are in
 * a second file, until the snapshot is in place.
 *
 * Each append begins with a line feed, so that a line torn by a full disk or a kill spoils nothing but itself, and each
 * writer numbers its lines, so that a missing line is noticed. Two processes may append to one file during a handover.
 */
export class Journal {
  private working: Promise<unknown> = Promise.resolve()
  private octets = 0
  private kept: { writer: string; text: string }[] = []
  private keptOctets = 0
  private writer = newWriter()
  private number = 0
  /** Lines were dropped: only a snapshot makes the files whole again. */
  needsSnapshot = false

  constructor(
    private readonly file: string,
    private readonly failed: (error: Error) => void,
    private readonly disk: Disk = DISK,
  ) {}

  private get before(): string {
    return this.file + '.before'
  }

  /** How many bytes were written since the last snapshot. */
  get size(): number {
    return this.octets
  }

  /** Notes a change by which the table reached a revision; what the disk refuses is written with the next. */
  note(revision: number, change: Change): void {
    const { writer } = this
    const text = JSON.stringify({ writer, number: ++this.number, revision, ...change } satisfies Line)
    this.octets += text.length
    this.kept.push({ writer, text })
    this.keptOctets += text.length
    if (this.keptOctets > MAX_KEPT) {
      this.kept = []
      this.keptOctets = 0
      this.needsSnapshot = true
    }
    void this.flushed()
  }

  /** Writes what was noted; faults go to `failed`. */
  flushed(): Promise<unknown> {
    return this.enqueue(() => this.write()).catch((error: Error) => this.failed(error))
  }

  /** A snapshot starts: changes from now on may be missing in it. Rejects where the disk refuses. */
  turn(): Promise<unknown> {
    return this.enqueue(async () => {
      await this.moveLines()
      // From here on the lines are complete again: the table holds whatever was dropped, and so will the snapshot.
      this.writer = newWriter()
      this.number = 0
      this.octets = 0
    })
  }

  private async moveLines(): Promise<void> {
    if (!existsSync(this.file)) return
    if (!existsSync(this.before)) return this.disk.rename(this.file, this.before)
    // A snapshot that failed left its own behind: both are needed.
    await this.append(this.before, await this.disk.readFile(this.file))
    await this.disk.unlink(this.file)
  }

  /** The snapshot is in place and durable: the changes before it are in it. */
  settled(): Promise<unknown> {
    return this.enqueue(async () => {
      await this.disk.unlink(this.before).catch(unlessMissing)
      // What the disk had refused of them is in the snapshot as well.
      this.kept = this.kept.filter(({ writer }) => writer === this.writer)
      this.keptOctets = this.kept.reduce((sum, { text }) => sum + text.length, 0)
      this.needsSnapshot = false
    })
  }

  private async write(): Promise<void> {
    while (this.kept.length > 0) {
      const { kept } = this
      const { writer } = kept[0]!
      const lines = kept.filter((line) => line.writer === writer).map(({ text }) => text)
      // Lines from before a turn belong with the others from before it.
      await this.append(writer === this.writer ? this.file : this.before, Buffer.from('\n' + lines.join('\n') + '\n'))
      // Others may have been noted while these were written, or so many that all were dropped.
      if (this.kept !== kept) return
      for (const { text } of kept.splice(0, lines.length)) this.keptOctets -= text.length
    }
  }

  private async append(path: string, bytes: Uint8Array): Promise<void> {
    const handle = await this.disk.open(path, 'a')
    try {
      await writeAll(handle, bytes)
    } finally {
      await handle.close().catch(() => undefined)
    }
  }

  private enqueue<Result>(work: () => Promise<Result>): Promise<Result> {
    const done = this.working.then(work)
    this.working = done.catch(() => undefined)
    return done
  }

  /**
   * Brings a table read from the snapshot to where the journal ends. False where a line is missing: the table then
   * has reached the revision before it, and a snapshot has to take the journal's place.
   */
  async replay(table: Table): Promise<boolean> {
    const last = new Map<string, number>()
    let isTornUnnumbered = false
    for (const file of [this.before, this.file]) {
      const found = await stat(file).catch(() => undefined)
      if (!found) continue
      this.octets += found.size
      const lines = createInterface({ input: createReadStream(file, { encoding: 'utf8' }) })
      for await (const text of lines) {
        if (text === '') continue
        const line = readLine(text)
        if (!line) {
          isTornUnnumbered = last.size === 0
          continue
        }
        if (line.writer === undefined || line.number === undefined) {
          // Of an earlier release: nothing says whether a torn line was written again.
          if (isTornUnnumbered) return false
        } else {
          const before = last.get(line.writer) ?? 0
          // A line may have been written again after a fault.
          if (line.number <= before) continue
          if (line.number > before + 1 && line.revision >= table.revision) return false
          last.set(line.writer, line.number)
        }
        if (line.revision < table.revision) continue
        patchTable(table, line)
        table.revision = line.revision
      }
    }
    return true
  }
}

const newWriter = () => randomBytes(6).toString('hex')

function readLine(text: string): Line | undefined {
  try {
    return JSON.parse(text) as Line
  } catch {
    return undefined
  }
}

function unlessMissing(error: NodeJS.ErrnoException): undefined {
  if (error.code !== 'ENOENT') throw error
}
