import { parentPort, workerData } from 'node:worker_threads'
import { strToU8, zipSync } from 'fflate'
import { WRITERS, type Written, type WriterId } from '../../core/formats/write'
import type { ExportAbout, ExportQuery } from '../../core/schemas'
import { openDatabase } from '../database/open'
import { outgoingOf } from '../usecases/exchange/outgoing'
import { Problem, type FieldFault } from '../usecases/problem'

/** What a writing thread is told when it starts. */
export interface ExportWork {
  databaseUrl: string
  format: WriterId
  query: ExportQuery
  /** Only what it would hold. */
  about: boolean
}

export type FromExport =
  | { about: ExportAbout }
  | { name: string; octets: Uint8Array }
  | { refused: { status: number; title: string; detail: string; errors: FieldFault[] } }
  | { problem: string }

const tell = (message: FromExport) => parentPort!.postMessage(message)

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
        about: {
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
    if (wanted) tell(wanted)
    else if (written.steps.length === 0 && files.length === 1) tell(files[0]!)
    else {
      const { host } = outgoing.domain
      const packed = Object.fromEntries(files.map(({ name, octets }) => [name, octets]))
      packed['README.txt'] = strToU8(readme(written, host, outgoing.at))
      tell({ name: `${host}-${format}.zip`, octets: zipSync(packed) })
    }
  } catch (error) {
    if (error instanceof Problem) {
      const { status, title, message: detail, errors } = error
      tell({ refused: { status, title, detail, errors } })
    } else tell({ problem: (error as Error).message })
  } finally {
    await db.sequelize.close()
  }
}

void work(workerData as ExportWork)
