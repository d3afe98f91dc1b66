import { randomBytes } from 'node:crypto'
import { mkdir, open, readdir, rename, unlink, type FileHandle } from 'node:fs/promises'
import { join } from 'node:path'

/** Lines of the segment in hand are appended this often, in milliseconds: what a killed process may lose. */
export const FLUSH_MS = 100
/** A segment is closed and becomes a batch at this many lines or this age. */
const SEGMENT_LINES = 5000
const SEGMENT_MS = 1000

const OPEN = '.open'
const READY = '.ready'

/**
 * An append-only spool of lines. Lines gather in memory, go to the segment in hand at every flush, and whole
 * segments wait as files until somebody has taken them. A segment's name is its batch key: it is made once, by
 * chance and number, and never used again.
 */
export class Spool {
  private lines: string[] = []
  private handle: FileHandle | undefined
  private segment = ''
  private segmentLines = 0
  private segmentSince = 0
  private sequence = 0
  private readonly run = `${Date.now().toString(36)}-${randomBytes(6).toString('hex')}`
  private timer: NodeJS.Timeout | undefined
  private working: Promise<void> = Promise.resolve()

  private constructor(
    private readonly folder: string,
    private readonly failed: (error: Error) => void,
  ) {}

  /** Opens a folder of one process's own; segments a killed run left open are closed and become batches. */
  static async open(folder: string, failed: (error: Error) => void): Promise<Spool> {
    await mkdir(folder, { recursive: true, mode: 0o700 })
    for (const name of await readdir(folder)) {
      if (name.endsWith(OPEN)) await rename(join(folder, name), join(folder, name.slice(0, -OPEN.length) + READY))
    }
    const spool = new Spool(folder, failed)
    spool.timer = setInterval(() => void spool.flush(), FLUSH_MS)
    return spool
  }

  /** Takes one line, without line feed. Does no I/O. */
  push(line: string): void {
    this.lines.push(line)
  }

  /** Writes what has gathered; closes the segment when it is full or old. Never rejects: faults go to `failed`. */
  flush(): Promise<void> {
    this.working = this.working.then(() => this.write()).catch((error: Error) => this.failed(error))
    return this.working
  }

  private async write(): Promise<void> {
    if (this.lines.length > 0) {
      const lines = this.lines
      this.lines = []
      try {
        if (!this.handle) {
          this.segment = `${this.run}-${++this.sequence}`
          this.handle = await open(join(this.folder, this.segment + OPEN), 'a', 0o600)
          this.segmentLines = 0
          this.segmentSince = Date.now()
        }
        await this.handle.appendFile(lines.join('\n') + '\n')
        this.segmentLines += lines.length
      } catch (error) {
        // A full disk: keep what we have, within reason, and try again at the next flush.
        this.lines = lines.concat(this.lines).slice(-200_000)
        throw error
      }
    }
    if (this.handle && (this.segmentLines >= SEGMENT_LINES || Date.now() - this.segmentSince >= SEGMENT_MS)) await this.seal()
  }

  private async seal(): Promise<void> {
    const handle = this.handle
    this.handle = undefined
    await handle?.close()
    await rename(join(this.folder, this.segment + OPEN), join(this.folder, this.segment + READY))
  }

  /** The batch keys that wait, oldest first. */
  async ready(): Promise<string[]> {
    const names = await readdir(this.folder)
    return names.filter((name) => name.endsWith(READY)).map((name) => name.slice(0, -READY.length)).sort()
  }

  /** The file of a waiting batch. */
  file(key: string): string {
    return join(this.folder, key + READY)
  }

  /** Forgets a batch that the database has. */
  async done(key: string): Promise<void> {
    await unlink(this.file(key)).catch((error: NodeJS.ErrnoException) => {
      if (error.code !== 'ENOENT') throw error
    })
  }

  /** Writes all, closes the segment in hand and stops flushing. */
  async close(): Promise<void> {
    clearInterval(this.timer)
    await this.flush()
    if (this.handle) await this.seal().catch((error: Error) => this.failed(error))
  }
}
