import { mkdir, readdir, readFile, rename, stat, unlink } from 'node:fs/promises'
import { join } from 'node:path'
import { readCut, type Cut } from '../core/misses'
import { readEvent, readPresence, type VisitEvent } from '../core/visits'
import { OPEN, READY, spoolFolder, writerLives } from '../environment/spool-folder'
import type { Batch } from './batch'

/** Where a segment's name does not say who writes it, nobody does after so long: one in hand is closed each second. */
const FORSAKEN_MS = 60_000

/** The segments that wait in a gateway's state folder. */
export class Segments {
  private readonly folder: string

  constructor(private readonly state: string) {
    this.folder = spoolFolder(state)
  }

  /**
   * The batch keys that wait, in the order of their names. Segments in hand of processes that live no more become
   * batches, and those in the folders of earlier releases, one for each serving process, move here.
   */
  async ready(): Promise<string[]> {
    await mkdir(this.folder, { recursive: true, mode: 0o700 })
    await this.takeOld()
    const names = await readdir(this.folder)
    const keys: string[] = []
    for (const name of names) {
      if (name.endsWith(READY)) keys.push(name.slice(0, -READY.length))
      else if (name.endsWith(OPEN) && (await this.isForsaken(name))) {
        const key = name.slice(0, -OPEN.length)
        if (await move(join(this.folder, name), join(this.folder, key + READY))) keys.push(key)
      }
    }
    return keys.sort()
  }

  private async isForsaken(name: string, folder = this.folder): Promise<boolean> {
    const lives = writerLives(name)
    if (lives !== undefined) return !lives
    const written = await stat(join(folder, name)).catch(() => undefined)
    return written !== undefined && Date.now() - written.mtimeMs > FORSAKEN_MS
  }

  private async takeOld(): Promise<void> {
    for (const place of await readdir(this.state)) {
      if (!/^\d+$/.test(place)) continue
      const old = join(this.state, place, 'spool')
      for (const name of await readdir(old).catch(() => []))
        if (name.endsWith(READY) || (name.endsWith(OPEN) && (await this.isForsaken(name, old))))
          await move(join(old, name), join(this.folder, name))
    }
  }

  /** Reads a batch. Lines that a killed process left torn are counted. */
  async read(key: string): Promise<Batch> {
    const events: VisitEvent[] = []
    const cuts: Cut[] = []
    const quarters = new Set<number>()
    let torn = 0
    for (const line of (await readFile(this.file(key), 'utf8')).split('\n')) {
      if (line === '') continue
      const event = readEvent(line)
      if (event) events.push(event)
      else {
        const cut = readCut(line)
        const quarter = readPresence(line)
        if (cut) cuts.push(cut)
        else if (quarter !== undefined) quarters.add(quarter)
        else torn++
      }
    }
    return { key, events, cuts, quarters: [...quarters], torn }
  }

  /** Forgets a batch that the database has. */
  async done(key: string): Promise<void> {
    await unlink(this.file(key)).catch(unlessGone)
  }

  private file = (key: string) => join(this.folder, key + READY)
}

function unlessGone(error: NodeJS.ErrnoException): void {
  if (error.code !== 'ENOENT') throw error
}

/** Whether a file was moved; another shipper may have been faster. */
const move = (from: string, to: string): Promise<boolean> =>
  rename(from, to).then(
    () => true,
    (error: NodeJS.ErrnoException) => {
      unlessGone(error)
      return false
    },
  )
