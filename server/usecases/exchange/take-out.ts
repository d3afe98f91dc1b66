import { createHash } from 'node:crypto'
import { QueryTypes } from 'sequelize'
import pLimit from 'p-limit'
import { WRITERS, type WriterId } from '../../../core/formats/write'
import type { ExportAbout, ExportQuery } from '../../../core/schemas'
import type { Database } from '../../database/open'
import { runOnce } from '../../threads/run-once'
import type { ExportedFile, ExportWork } from '../../threads/export-thread'
import { notFound, Problem } from '../problem'

/** So many files are written at once in a process; few may wait. */
const turns = pLimit(2)
const MAX_WAITING = 10
const MAX_MS = 60_000
const MAX_MEGABYTES = 1200

function writerNamed(format: string): WriterId {
  if (!Object.hasOwn(WRITERS, format)) throw notFound('format')
  return format as WriterId
}

/**
 * The entity tag of what would be taken out: it changes with every change of the register, and when a date comes that
 * makes a link stand otherwise (RFC 9110 §8.8.3).
 */
export async function exportTag(db: Database, format: string, query: ExportQuery): Promise<string> {
  writerNamed(format)
  const [row] = await db.sequelize.query<{ revision: number; come: number }>(
    `SELECT revision, (SELECT COUNT(*) FROM link WHERE starts_at <= UTC_TIMESTAMP(3))
       + (SELECT COUNT(*) FROM link WHERE ends_at <= UTC_TIMESTAMP(3))
       + (SELECT COUNT(*) FROM link WHERE resumes_at <= UTC_TIMESTAMP(3)) AS come
     FROM organisation WHERE id = 1`,
    { type: QueryTypes.SELECT },
  )
  const said = JSON.stringify([format, query, Number(row?.revision ?? 0), Number(row?.come ?? 0)])
  return `"${createHash('sha256').update(said).digest('base64url').slice(0, 24)}"`
}

/** A file of a domain's links and rules, or several packed with what to do with them. Written in a thread. */
export async function takeOut(
  databaseUrl: string,
  format: string,
  query: ExportQuery,
): Promise<{ name: string; octets: Buffer }> {
  const { name, octets } = await inThread<ExportedFile>({
    databaseUrl,
    format: writerNamed(format),
    query,
    about: false,
  })
  return { name, octets: Buffer.from(octets) }
}

/** What such a file would hold, and what it could not say. */
export const aboutExport = (databaseUrl: string, format: string, query: ExportQuery): Promise<ExportAbout> =>
  inThread<ExportAbout>({ databaseUrl, format: writerNamed(format), query, about: true })

function inThread<Result>(work: ExportWork): Promise<Result> {
  if (turns.pendingCount >= MAX_WAITING)
    throw new Problem(503, 'Busy', 'Too many files are being written already; try again in a minute.')
  const late = 'Writing the file took longer than a minute and was given up; take it by tags.'
  return turns(() => runOnce<Result>('export-thread', work, { mostMs: MAX_MS, mostMegabytes: MAX_MEGABYTES, late }))
}
