import { createHash, randomUUID } from 'node:crypto'
import { open, rm, type FileHandle } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { QueryTypes } from 'sequelize'
import { WRITERS, type WriterId } from '../../../core/formats/write'
import type { ExportAbout, ExportQuery } from '../../../core/schemas'
import type { Database } from '../../database/open'
import { FairTurns } from '../../threads/fair-turns'
import { runOnce } from '../../threads/run-once'
import type { ExportedFile, ExportWork } from '../../threads/export-process'
import { notFound } from '../problem'

/** So many files are written at once in a process; few may wait. */
const turns = new FairTurns({ atOnce: 3, waiting: 10, waitingPerAsker: 2, what: 'exports' })
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

/** A written file; it is gone from the disk once the handle is closed. */
export interface OpenExport {
  name: string
  bytes: number
  handle: FileHandle
}

/**
 * A file of a domain's links and rules, or several packed with what to do with them. It is written to the disk by a
 * process of its own: its content is never held in this one.
 */
export async function takeOut(databaseUrl: string, format: string, query: ExportQuery): Promise<OpenExport> {
  const path = join(tmpdir(), `fides-export-${randomUUID()}`)
  try {
    const written = await inProcess<ExportedFile>({ databaseUrl, format: writerNamed(format), query, path })
    return { ...written, handle: await open(path, 'r') }
  } finally {
    // The open handle keeps the content.
    await rm(path, { force: true })
  }
}

/** What such a file would contain, and what it could not say. */
export const aboutExport = (databaseUrl: string, format: string, query: ExportQuery): Promise<ExportAbout> =>
  inProcess<ExportAbout>({ databaseUrl, format: writerNamed(format), query })

function inProcess<Result>(work: ExportWork): Promise<Result> {
  const late = 'Writing the file took longer than a minute and was stopped. Export it by tag instead.'
  return turns.run((signal) =>
    runOnce<Result>('export-process', work, { mostMs: MAX_MS, mostMegabytes: MAX_MEGABYTES, late, signal }),
  )
}
