import { createReadStream, createWriteStream } from 'node:fs'
import { rename, stat } from 'node:fs/promises'
import { once } from 'node:events'
import { compile, entryRow, putLink, putRules, type Table } from '../core/table'
import type { DomainRow, LinkRow, RuleRow } from '../core/rows'
import { faultInWords } from '../environment/log'
import type { Journal, TableChange } from './journal'

const FORMAT = 'fides-snapshot-5'
/** Of the release before: a line an object for each link. */
const FORMAT_BEFORE = 'fides-snapshot-4'
const ROWS_A_LINE = 250

/** The fields of a link in the order a row has them; those at the end that are empty are left out. */
const FIELDS = [
  'id',
  'domainId',
  'canonical',
  'destination',
  'status',
  'query',
  'queryConflict',
  'standing',
  'slug',
  'startsAt',
  'endsAt',
  'resumesAt',
  'endedDestination',
  'robots',
  'referrerPolicy',
  'forwardsTo',
  'unlisted',
] as const satisfies readonly (keyof LinkRow)[]

function toArray(row: LinkRow): unknown[] {
  const values: unknown[] = FIELDS.map((name) => row[name])
  if (row.slug === row.canonical) values[8] = null
  if (!row.unlisted) values[16] = null
  while (values.at(-1) === null) values.pop()
  return values
}

function fromArray(values: readonly unknown[]): LinkRow {
  const row: Record<string, unknown> = {}
  for (const [index, name] of FIELDS.entries()) row[name] = values[index] ?? null
  row.slug ??= row.canonical
  row.unlisted ??= false
  return row as LinkRow
}

/**
 * Writes the table beside the old snapshot and puts it in its place by a rename, so that a killed process leaves the
 * old one whole. Lines of JSON: a head, the domains, the rules, the links, many a line, a closing count. Yields between
 * steps so that visitors do not wait.
 */
export async function writeSnapshot(file: string, table: Table, revision = table.revision): Promise<void> {
  const partial = `${file}.${process.pid}.partial`
  const out = createWriteStream(partial, { mode: 0o600 })
  const failed = once(out, 'error').then(([error]) => Promise.reject(error))
  failed.catch(() => undefined)
  const put = async (lines: string[]) => {
    if (lines.length && !out.write(lines.join('\n') + '\n')) await Promise.race([once(out, 'drain'), failed])
    await new Promise(setImmediate)
  }
  await put([
    JSON.stringify({ format: FORMAT, revision }),
    JSON.stringify([...table.domains.values()].map((part) => part.domain)),
    JSON.stringify([...table.domains.values()].flatMap((part) => part.rules.rules.map((rule) => rule.row))),
  ])
  let count = 0
  let rows: unknown[][] = []
  for (const [domainId, part] of table.domains) {
    for (const [canonical, entry] of part.links) {
      rows.push(toArray(entryRow(entry, domainId, canonical)))
      count++
      if (rows.length === ROWS_A_LINE) {
        await put([JSON.stringify({ rows })])
        rows = []
      }
    }
  }
  await put([JSON.stringify({ rows }), JSON.stringify({ links: count })])
  out.end()
  await Promise.race([once(out, 'close'), failed])
  await rename(partial, file)
}

/** A table that was loaded goes to disk so soon. */
const SNAPSHOT_MS = 5000
/** A journal that has grown beyond this is folded into a new snapshot; starting takes longer with each line of it. */
const MOST_JOURNAL = 16_000_000

/**
 * Keeps what is on disk behind the table: small changes go to the journal, `soon` writes a snapshot in a while, `now`
 * before the end. `revision` is the one all of the table stands at: what waits for its moment is not in it yet. Faults
 * are told, never thrown.
 */
export function snapshotKeeper(
  file: string,
  journal: Journal,
  { table, revision }: { table(): Table; revision(): number },
  log: (line: string) => void,
) {
  let timer: NodeJS.Timeout | undefined
  let writing = Promise.resolve()
  const now = () => {
    clearTimeout(timer)
    timer = undefined
    writing = writing
      .then(async () => {
        await journal.turn()
        await writeSnapshot(file, table(), revision())
        await journal.settled()
      })
      .catch((error: Error) => void log(`the snapshot cannot be written: ${faultInWords(error)}`))
    return writing
  }
  const soon = () => void (timer ??= setTimeout(() => void now(), SNAPSHOT_MS))
  return {
    now,
    soon,
    note(change: TableChange) {
      journal.note(revision(), change)
      if (journal.size > MOST_JOURNAL) soon()
    },
    /** Before the end: a journal is enough where it is short. */
    async settle() {
      if (timer !== undefined) return now()
      await writing
      await journal.flushed()
    },
  }
}

/** The lines of a file. */
async function* linesOf(file: string): AsyncGenerator<string> {
  let rest = ''
  for await (const piece of createReadStream(file, { encoding: 'utf8', highWaterMark: 1 << 20 })) {
    const lines = (rest + (piece as string)).split('\n')
    rest = lines.pop()!
    yield* lines
  }
  if (rest !== '') yield rest
}

/** Reads a snapshot; `undefined` where there is none or it is not whole. */
export async function readSnapshot(file: string): Promise<Table | undefined> {
  if (!(await stat(file).catch(() => undefined))) return undefined
  let table: Table | undefined
  let revision: number | undefined
  let count = 0
  try {
    for await (const line of linesOf(file)) {
      const parsed = JSON.parse(line)
      if (revision === undefined) {
        if (parsed.format !== FORMAT && parsed.format !== FORMAT_BEFORE) return undefined
        revision = Number(parsed.revision)
      } else if (table === undefined)
        table = compile(
          (parsed as DomainRow[]).map((row) => ({ ...row, pages: row.pages ?? {} })),
          [],
          revision,
        )
      else if (Array.isArray(parsed)) putRules(table, parsed as RuleRow[])
      else if ('links' in parsed) return parsed.links === count ? table : undefined
      else {
        const rows = 'rows' in parsed ? (parsed.rows as unknown[][]).map(fromArray) : [parsed as LinkRow]
        for (const row of rows) putLink(table, row)
        count += rows.length
      }
    }
  } catch {
    return undefined
  }
  return undefined
}
