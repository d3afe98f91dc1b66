import { mkdir } from 'node:fs/promises'
import { join } from 'node:path'
import { setTimeout as pause } from 'node:timers/promises'
import { DISK, writeAll, type Disk, type OpenFile } from '../environment/disk'
import { OPEN, READY, segmentPrefix } from '../environment/spool-folder'

/** Lines are appended to the open segment this often, in milliseconds: what a killed process may lose. */
export const FLUSH_MS = 100
/** A segment is closed and becomes a batch at this many lines or this age. */
const SEGMENT_LINES = 5000
const SEGMENT_MS = 1000

/** Lines gather in chunks of this many bytes, encoded as they come: text kept for later would burden the collector. */
const CHUNK = 1 << 18
/** With a disk that refuses, this many bytes are kept in memory before the oldest are dropped. */
const MAX_KEPT = 1 << 26
/** An orderly stop tries this long to write what is left. */
const CLOSE_PATIENCE_MS = 2000

interface Chunk {
  bytes: Buffer
  lines: number
}

interface Segment {
  name: string
  file: OpenFile
  since: number
  /** Whole chunks in it: a failed write may have left part of another behind them. */
  octets: number
  torn: boolean
  /** Kept until the disk has confirmed them. */
  chunks: Chunk[]
  lines: number
}

/**
 * An append-only spool of lines. Lines gather in memory, are appended to the open segment at every flush, and whole
 * segments wait as files until the shipper has stored them. A segment's name is its batch key: it is used once, and
 * says which process writes it, so that the shipper can close what a killed process left open. A line leaves memory
 * only when its segment is on disk (fdatasync); whatever has to be given up is counted in `lost`.
 */
export class Spool {
  private chunk = Buffer.allocUnsafe(CHUNK)
  private length = 0
  private lines = 0
  /** Lines given up because the disk refused them for too long. */
  lost = 0
  private readonly waiting: Chunk[] = []
  private waitingOctets = 0
  /** The first chunk is being written and must not be dropped. */
  private isWriting = false
  private segment: Segment | undefined
  /** Written and closed, but not renamed yet. */
  private readonly unsealed: string[] = []
  private sequence = 0
  private readonly run = segmentPrefix()
  private timer: NodeJS.Timeout | undefined
  private working: Promise<void> = Promise.resolve()

  private constructor(
    private readonly folder: string,
    private readonly failed: (error: Error) => void,
    private readonly disk: Disk,
  ) {}

  /** Opens a folder that any number of processes may share; faults of the disk are reported to `failed`. */
  static async open(folder: string, failed: (error: Error) => void, disk = DISK): Promise<Spool> {
    await mkdir(folder, { recursive: true, mode: 0o700 })
    const spool = new Spool(folder, failed, disk)
    spool.timer = setInterval(() => void spool.flush(), FLUSH_MS)
    return spool
  }

  /** Takes one line, without line feed. Does no I/O. */
  push(line: string): void {
    // A UTF-16 unit takes at most three bytes.
    const room = line.length * 3 + 1
    if (this.length + room > this.chunk.length) this.turn(Math.max(CHUNK, room))
    this.length += this.chunk.write(line, this.length)
    this.chunk[this.length++] = 0x0a
    this.lines++
  }

  private turn(size: number): void {
    if (this.length > 0) {
      this.waiting.push({ bytes: this.chunk.subarray(0, this.length), lines: this.lines })
      this.waitingOctets += this.length
      const first = this.isWriting ? 1 : 0
      while (this.waitingOctets > MAX_KEPT && this.waiting.length > first + 1) {
        const [dropped] = this.waiting.splice(first, 1)
        this.waitingOctets -= dropped!.bytes.length
        this.lost += dropped!.lines
      }
    }
    this.chunk = Buffer.allocUnsafe(size)
    this.length = 0
    this.lines = 0
  }

  /** Writes what has gathered; closes the segment when it is full or old. Never rejects: faults go to `failed`. */
  flush(): Promise<void> {
    return this.enqueue(() => this.write(false))
  }

  private enqueue(work: () => Promise<void>): Promise<void> {
    this.working = this.working.then(work).catch((error: Error) => this.failed(error))
    return this.working
  }

  private async write(isLast: boolean): Promise<void> {
    await this.renameUnsealed()
    if (this.length > 0) this.turn(CHUNK)
    // Also what an earlier flush could not write, although nobody came since.
    if (this.waiting.length > 0) await this.append()
    const { segment } = this
    if (segment && (isLast || segment.lines >= SEGMENT_LINES || Date.now() - segment.since >= SEGMENT_MS))
      await this.seal(segment)
  }

  private async append(): Promise<void> {
    const segment = (this.segment ??= await this.openSegment())
    await this.cutTorn(segment)
    while (this.waiting.length > 0) {
      const chunk = this.waiting[0]!
      this.isWriting = true
      try {
        await writeAll(segment.file, chunk.bytes)
      } catch (error) {
        // Part of it may be in the file; what is written again must not be there twice.
        segment.torn = true
        await this.cutTorn(segment).catch(() => undefined)
        throw error
      } finally {
        this.isWriting = false
      }
      segment.octets += chunk.bytes.length
      segment.lines += chunk.lines
      segment.chunks.push(chunk)
      this.waiting.shift()
      this.waitingOctets -= chunk.bytes.length
    }
  }

  private async openSegment(): Promise<Segment> {
    const name = `${this.run}-${++this.sequence}`
    const file = await this.disk.open(join(this.folder, name + OPEN), 'a')
    return { name, file, since: Date.now(), octets: 0, torn: false, chunks: [], lines: 0 }
  }

  private async cutTorn(segment: Segment): Promise<void> {
    if (!segment.torn) return
    await segment.file.truncate(segment.octets)
    segment.torn = false
  }

  private async seal(segment: Segment): Promise<void> {
    await this.cutTorn(segment)
    try {
      await segment.file.datasync()
    } catch (error) {
      // What of it is on disk is unknown: it is emptied and written again under another name.
      await segment.file.truncate(0)
      this.segment = undefined
      this.waiting.unshift(...segment.chunks)
      this.waitingOctets += segment.octets
      await segment.file.close().catch(() => undefined)
      await this.disk.unlink(join(this.folder, segment.name + OPEN)).catch(() => undefined)
      throw error
    }
    this.segment = undefined
    this.unsealed.push(segment.name)
    await segment.file.close().catch(() => undefined)
    await this.renameUnsealed()
  }

  private async renameUnsealed(): Promise<void> {
    while (this.unsealed.length > 0) {
      const name = this.unsealed[0]!
      await this.disk.rename(join(this.folder, name + OPEN), join(this.folder, name + READY))
      this.unsealed.shift()
    }
  }

  private get isEmpty(): boolean {
    return this.length === 0 && this.waiting.length === 0 && !this.segment && this.unsealed.length === 0
  }

  /** Stops flushing, writes all and closes the open segment; what the disk still refuses after a while is lost. */
  async close(patienceMs = CLOSE_PATIENCE_MS): Promise<void> {
    clearInterval(this.timer)
    const deadline = Date.now() + patienceMs
    for (;;) {
      await this.enqueue(() => this.write(true))
      if (this.isEmpty || Date.now() >= deadline) break
      await pause(FLUSH_MS)
    }
    const left = this.lines + this.waiting.reduce((sum, { lines }) => sum + lines, 0)
    if (left === 0) return
    this.lost += left
    this.failed(new Error(`${left} lines are lost: the disk refused them until the end`))
  }
}
