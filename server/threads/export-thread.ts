import { parentPort, workerData } from 'node:worker_threads'
import { strToU8, zipSync } from 'fflate'
import { WRITERS, type Written, type WriterId } from '../../core/formats/write'
import type { ExportAbout, ExportQuery } from '../../core/schemas'
import { openDatabase } from '../database/open'
import { outgoingOf } from '../usecases/exchange/outgoing'
import { Problem } from '../usecases/problem'
import { toldOf, type Told } from './run-once'

/** What a writing thread is told when it starts. */
export interface ExportWork {
  databaseUrl: string
  format: WriterId
  query: ExportQuery
  /** Only what it would hold. */
  about: boolean
}

/** A file as it is taken. */
export interface ExportedFile {
  name: string
  octets: Uint8Array
}

const tell = (message: Told<ExportAbout | ExportedFile>) => parentPort!.postMessage(message)

/** What goes along with several files: what to do with them, and what they cannot say. */
function readme({ steps, cannot }: Written, host: string, at: number): string {
  const told = cannot.flatMap(({ sentence, subjects, count }) => [
    `- ${sentence}${count > 0 ? ` (${count.toLocaleString('en')})` : ''}`,
    ...subjects.map((subject) => `    ${subject}`),
    ...(count > subjects.length ? ['    and more'] : []),
  ])
  return [
    `Redirects of ${host}, as of ${new Date(at).toISOString()}`,
    '',
    'What to do',
    ...steps.map((step, index) => `${index + 1}. ${step}`),
    '',
    'What these files cannot say',
    ...(told.length === 0 ? ['- Nothing: they say all of it.'] : told),
    '',
  ].join('\n')
}

async function work({ databaseUrl, format, query, about }: ExportWork): Promise<void> {
  const db = openDatabase(databaseUrl, { poolSize: 2 })
  try {
    const outgoing = await outgoingOf(db, query)
    const written = WRITERS[format](outgoing)
    const files = written.files.map(({ name, text }) => ({ name, octets: strToU8(text) }))
    if (about) {
      const { cannot, steps } = written
      tell({
        result: {
          format,
          links: outgoing.links.length,
          rules: outgoing.rules.length,
          files: files.slice(0, 100).map(({ name, octets }) => ({ name, octets: octets.length })),
          cannot,
          steps,
        },
      })
      return
    }
    const wanted = query.part === undefined ? undefined : files.find(({ name }) => name === query.part)
    if (query.part !== undefined && !wanted) {
      const names = files.slice(0, 5).map(({ name }) => name)
      throw new Problem(404, 'Not here', `There is no file “${query.part}” in it; there is ${names.join(', ')}.`)
    }
    if (wanted) tell({ result: wanted })
    else if (written.steps.length === 0 && files.length === 1) tell({ result: files[0]! })
    else {
      const { host } = outgoing.domain
      const packed = Object.fromEntries(files.map(({ name, octets }) => [name, octets]))
      packed['README.txt'] = strToU8(readme(written, host, outgoing.at))
      tell({ result: { name: `${host}-${format}.zip`, octets: zipSync(packed) } })
    }
  } catch (error) {
    tell(toldOf(error))
  } finally {
    await db.sequelize.close()
  }
}

void work(workerData as ExportWork)
