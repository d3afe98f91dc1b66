import { mkdir, open, rename, type FileHandle } from 'node:fs/promises'
import { join } from 'node:path'
import { OPEN, READY, segmentPrefix } from '../environment/spool-folder'

/** Lines of the segment in hand are appended this often, in milliseconds: what a killed process may lose. */
export const FLUSH_MS = 100
/** A segment is closed and becomes a batch at this many lines or this age. */
const SEGMENT_LINES = 5000
const SEGMENT_MS = 1000

/** Lines gather in chunks of this many octets, written as they come: text kept for later would burden the collector. */
const CHUNK = 1 << 18
/** With a disk that refuses, this many octets are kept in memory before the oldest go. */
const MOST_KEPT = 1 << 26

/**
 * An append-only spool of lines. Lines gather in memory, go to the segment in hand at every flush, and whole
 * segments wait as files until the shipper has taken them. A segment's name is its batch key: it is made once and
 * never used again, and says which process writes it, so that the shipper can close what a killed one left open.
 */
export class Spool {
  private chunk = Buffer.allocUnsafe(CHUNK)
  private length = 0
  private linesGathered = 0
  /** Chunks given up because the disk refused them for too long, in octets. */
  dropped = 0
  private full: Buffer[] = []
  private fullLength = 0
  private handle: FileHandle | undefined
  private segment = ''
  private segmentLines = 0
  private segmentOctets = 0
  private segmentSince = 0
  private sequence = 0
  private readonly run = segmentPrefix()
  private timer: NodeJS.Timeout | undefined
  private working: Promise<void> = Promise.resolve()

  private constructor(
    private readonly folder: string,
    private readonly failed: (error: Error) => void,
  ) {}

  /** Opens a folder that any number of processes may share. */
  static async open(folder: string, failed: (error: Error) => void): Promise<Spool> {
    await mkdir(folder, { recursive: true, mode: 0o700 })
    const spool = new Spool(folder, failed)
    spool.timer = setInterval(() => void spool.flush(), FLUSH_MS)
    return spool
  }

  /** Takes one line, without line feed. Does no I/O. */
  push(line: string): void {
    // A UTF-16 unit takes at most three octets.
    const room = line.length * 3 + 1
    if (this.length + room > this.chunk.length) this.turn(Math.max(CHUNK, room))
    this.length += this.chunk.write(line, this.length)
    this.chunk[this.length++] = 0x0a
    this.linesGathered++
  }

  private turn(size: number): void {
    if (this.length > 0) {
      this.full.push(this.chunk.subarray(0, this.length))
      this.fullLength += this.length
      while (this.fullLength > MOST_KEPT) {
        const { length } = this.full.shift()!
        this.fullLength -= length
        this.dropped += length
      }
    }
    this.chunk = Buffer.allocUnsafe(size)
    this.length = 0
  }

  /** Writes what has gathered; closes the segment when it is full or old. Never rejects: faults go to `failed`. */
  flush(): Promise<void> {
    this.working = this.working.then(() => this.write()).catch((error: Error) => this.failed(error))
    return this.working
  }

  private async write(): Promise<void> {
    if (this.linesGathered > 0) {
      if (!this.handle) {
        this.segment = `${this.run}-${++this.sequence}`
        this.handle = await open(join(this.folder, this.segment + OPEN), 'a', 0o600)
        this.segmentLines = 0
        this.segmentOctets = 0
        this.segmentSince = Date.now()
      }
      this.turn(CHUNK)
      this.segmentLines += this.linesGathered
      this.linesGathered = 0
      while (this.full.length > 0) {
        // Taken off only once written: a full disk keeps what we have, within reason, for the next flush.
        const chunk = this.full[0]!
        try {
          await this.handle.appendFile(chunk)
        } catch (error) {
          // Part of it may stand there already; what is written again must not stand twice.
          await this.handle.truncate(this.segmentOctets).catch(() => undefined)
          throw error
        }
        this.segmentOctets += chunk.length
        if (this.full[0] === chunk) this.fullLength -= this.full.shift()!.length
      }
    }
    if (this.handle && (this.segmentLines >= SEGMENT_LINES || Date.now() - this.segmentSince >= SEGMENT_MS))
      await this.seal()
  }

  private async seal(): Promise<void> {
    const handle = this.handle
    this.handle = undefined
    await handle?.close()
    await rename(join(this.folder, this.segment + OPEN), join(this.folder, this.segment + READY))
  }

  /** Writes all, closes the segment in hand and stops flushing. */
  async close(): Promise<void> {
    clearInterval(this.timer)
    await this.flush()
    if (this.handle) await this.seal().catch((error: Error) => this.failed(error))
  }
}
