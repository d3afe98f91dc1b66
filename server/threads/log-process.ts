import { readLogLine } from '../../core/log/access-log'
import { Replay, seenIn } from '../../core/table'
import type { LogReplay } from '../../core/schemas'
import { openDatabase } from '../database/open'
import { tablesFor } from '../usecases/replay/tables'
import { toldOf, type Told } from './run-once'
import { serveParent, tellParent } from './child'

/** What a process that runs a log through a file is told when it starts. */
export interface LogWork {
  databaseUrl: string
  intake: number
  /** The host the log is of. */
  host: string
  octets: Uint8Array
}

/** Requests that led somewhere, or tried to: pages asked for, answered or not found. */
const COUNTS = (status: number) => status < 400 || status === 404 || status === 410

async function work({ databaseUrl, intake, host, octets }: LogWork): Promise<void> {
  const db = openDatabase(databaseUrl, { poolSize: 2 })
  try {
    const text = Buffer.from(octets.buffer, octets.byteOffset, octets.byteLength).toString('latin1')
    const asked = new Map<string, { count: number; landed: number }>()
    let [lines, unread, landedThere] = [0, 0, 0]
    for (let at = 0; at < text.length;) {
      let end = text.indexOf('\n', at)
      if (end === -1) end = text.length
      const line = text.slice(at, end)
      at = end + 1
      if (line.trim() === '') continue
      lines++
      const request = readLogLine(line)
      if (!request?.target.startsWith('/')) {
        unread++
        continue
      }
      if (request.method !== 'GET' || !COUNTS(request.status)) continue
      const known = asked.get(request.target) ?? { count: 0, landed: 0 }
      known.count++
      if (request.status < 400) {
        known.landed++
        landedThere++
      }
      asked.set(request.target, known)
    }
    const { before, after } = await tablesFor(db, { by: 'intake', intake })
    const replay = new Replay(before, after)
    let lostHere = 0
    const lost: { target: string; count: number }[] = []
    for (const [target, { count, landed }] of asked) {
      replay.put({ host, target, language: '', count })
      if (landed === 0 || seenIn(after, { host, target, language: '' }).found) continue
      lostHere += landed
      lost.push({ target: target.slice(0, 300), count: landed })
    }
    lost.sort((a, b) => b.count - a.count)
    const { requests, counts } = replay.told()
    const result = { lines, unread, requests, landedThere, lostHere, counts, lost: lost.slice(0, 50) }
    await tellParent({ result } satisfies Told<LogReplay>)
  } catch (error) {
    await tellParent(toldOf(error))
  } finally {
    await db.sequelize.close()
  }
}

serveParent(work)
