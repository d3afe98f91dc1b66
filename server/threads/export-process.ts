import { writeFile } from 'node:fs/promises'
import { strToU8, zipSync } from 'fflate'
import { withDifferences } from '../../core/formats/write/trial/differences'
import { WRITERS, type Written, type WriterId } from '../../core/formats/write'
import type { ExportAbout, ExportQuery } from '../../core/schemas'
import { openDatabase } from '../database/open'
import { outgoingOf } from '../usecases/exchange/outgoing'
import { Problem } from '../usecases/problem'
import { toldOf, type Told } from './run-once'
import { serveParent, tellParent } from './child'

/** What a writing process is told when it starts. */
export interface ExportWork {
  databaseUrl: string
  format: WriterId
  query: ExportQuery
  /** Where the file is written, which must not exist yet; without it, only what it would contain is told. */
  path?: string
}

/** A file as it was written. */
export interface ExportedFile {
  name: string
  bytes: number
}

const tell = (message: Told<ExportAbout | ExportedFile>) => tellParent(message)

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

async function work({ databaseUrl, format, query, path }: ExportWork): Promise<void> {
  const db = openDatabase(databaseUrl, { poolSize: 2 })
  try {
    const outgoing = await outgoingOf(db, query)
    const written = withDifferences(format, outgoing, WRITERS[format](outgoing))
    const files = written.files.map(({ name, text }) => ({ name, octets: strToU8(text) }))
    if (path === undefined) {
      const { cannot, steps } = written
      await tell({
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
      throw new Problem(404, 'Not found', `There is no file “${query.part}” in it; there is ${names.join(', ')}.`)
    }
    const save = async (name: string, content: Uint8Array) => {
      await writeFile(path, content, { flag: 'wx', mode: 0o600 })
      await tell({ result: { name, bytes: content.length } })
    }
    if (wanted) await save(wanted.name, wanted.octets)
    else if (written.steps.length === 0 && files.length === 1) await save(files[0]!.name, files[0]!.octets)
    else {
      const { host } = outgoing.domain
      const packed = Object.fromEntries(files.map(({ name, octets }) => [name, octets]))
      packed['README.txt'] = strToU8(readme(written, host, outgoing.at))
      await save(`${host}-${format}.zip`, zipSync(packed))
    }
  } catch (error) {
    await tell(toldOf(error))
  } finally {
    await db.sequelize.close()
  }
}

serveParent(work)
