import { open } from 'node:fs/promises'
import { join } from 'node:path'
import { QueryTypes } from 'sequelize'
import { readFrontLine, type CertificateEvent, type CertificateEventKind } from '../../../core/domain/front-log'
import type { CertificateView } from '../../../core/schemas'
import type { Database } from '../../database/open'

/** So much of the log is read at once. */
const MAX_OCTETS = 4_000_000
const SHOWN = 20
const KEPT_DAYS = 400

/** What the front wrote into its log since the last look, whole lines only, and where it ends. */
async function readOn(file: string, from: { inode: number; octets: number }) {
  const handle = await open(file, 'r').catch((error: NodeJS.ErrnoException) => {
    if (error.code === 'ENOENT') return undefined
    throw error
  })
  if (!handle) return undefined
  try {
    const { ino, size } = await handle.stat()
    // Another file, or one begun anew, is read from its beginning.
    const start = ino === from.inode && size >= from.octets ? from.octets : 0
    const buffer = Buffer.alloc(Math.min(size - start, MAX_OCTETS))
    await handle.read(buffer, 0, buffer.length, start)
    const end = buffer.lastIndexOf(0x0a) + 1
    return { inode: ino, octets: start + end, lines: buffer.subarray(0, end).toString('utf8').split('\n') }
  } finally {
    await handle.close()
  }
}

/**
 * Takes over what the front's log tells of certificates, each once: the place in the log moves in the same transaction.
 * The domains it is about are looked at again at once.
 */
export async function takeFrontLog(db: Database, folder: string): Promise<void> {
  const [mark] = await db.sequelize.query<{ inode: number; octets: number }>(
    'SELECT inode, octets FROM front_log WHERE id = 1',
    { type: QueryTypes.SELECT },
  )
  const before = { inode: Number(mark?.inode ?? 0), octets: Number(mark?.octets ?? 0) }
  const read = await readOn(join(folder, 'front.log'), before)
  if (!read || (read.inode === before.inode && read.octets === before.octets)) return
  const events = read.lines.map(readFrontLine).filter((event): event is CertificateEvent => event !== undefined)
  await db.sequelize.transaction(async (transaction) => {
    const [now] = await db.sequelize.query<{ octets: number }>('SELECT octets FROM front_log WHERE id = 1 FOR UPDATE', {
      type: QueryTypes.SELECT,
      transaction,
    })
    if (now && Number(now.octets) !== before.octets) return
    await db.sequelize.query(
      'INSERT INTO front_log (id, inode, octets) VALUES (1, :inode, :octets) ON DUPLICATE KEY UPDATE ' +
        'inode = VALUES(inode), octets = VALUES(octets)',
      { replacements: { inode: read.inode, octets: read.octets }, transaction },
    )
    if (events.length === 0) return
    await db.sequelize.query('INSERT INTO certificate_event (at, host, kind, detail) VALUES ?', {
      replacements: [events.map(({ at, host, kind, detail }) => [new Date(at), host, kind, detail])],
      transaction,
    })
    const done = events.filter(({ kind }) => kind !== 'obtaining' && kind !== 'renewing').map(({ host }) => host)
    if (done.length > 0)
      await db.sequelize.query(
        'UPDATE domain_watch SET due_at = UTC_TIMESTAMP(3), certificate = NULL WHERE domain_id IN ' +
          '(SELECT id FROM domain WHERE host IN (?))',
        { replacements: [[...new Set(done)]], transaction },
      )
  })
}

/** What the front told of a host's certificate, the newest first. */
export async function listCertificateEvents(db: Database, host: string): Promise<CertificateView['events']> {
  const rows = await db.sequelize.query<{ at: Date; kind: CertificateEventKind; detail: string }>(
    'SELECT at, kind, detail FROM certificate_event WHERE host = ? ORDER BY id DESC LIMIT ?',
    { replacements: [host, SHOWN], type: QueryTypes.SELECT },
  )
  return rows.map(({ at, kind, detail }) => ({ at: new Date(at).toISOString(), kind, detail }))
}

/** What the front told of its last try, where that failed. */
export async function lastFailure(db: Database, host: string): Promise<{ at: number; detail: string } | undefined> {
  const [last] = (await listCertificateEvents(db, host)).filter(
    ({ kind }) => kind !== 'obtaining' && kind !== 'renewing',
  )
  return last?.kind === 'failed' ? { at: Date.parse(last.at), detail: last.detail } : undefined
}

/** Forgets what is of no use any more. */
export const forgetCertificateEvents = (db: Database): Promise<unknown> =>
  db.sequelize.query('DELETE FROM certificate_event WHERE at < DATE_SUB(UTC_TIMESTAMP(3), INTERVAL ? DAY)', {
    replacements: [KEPT_DAYS],
  })
