import { createReadStream, existsSync } from 'node:fs'
import { readdir, stat, unlink } from 'node:fs/promises'
import { basename, dirname, join } from 'node:path'
import type { TableChange } from '../core/ledger-follower'
import { compile, entryRow, plainEntry, putLink, putRules, type Table } from '../core/table'
import type { DomainRow, LinkRow, RuleRow } from '../core/rows'
import { DISK, writeAll, type Disk } from '../environment/disk'
import { faultInWords } from '../environment/log'
import type { Journal } from './journal'

const FORMAT = 'fides-snapshot-6'
/** Of the release before: all links as rows. */
const FORMAT_BEFORE = 'fides-snapshot-5'
const ROWS_A_LINE = 250

/**
 * Most links have nothing but a destination and flags. They lie one after another in a line of their domain, as a
 * million of them are read at a start: id, canonical slug, destination, flags.
 */
interface PlainLine {
  domain: number
  plain: (string | number)[]
}
const PLAIN_VALUES = 4

function putPlain(table: Table, { domain, plain }: PlainLine): number {
  const part = table.domains.get(domain)
  for (let at = 0; part && at < plain.length; at += PLAIN_VALUES) {
    const canonical = plain[at + 1] as string
    const entry = plainEntry(plain[at] as number, plain[at + 2] as string, plain[at + 3] as number)
    part.links.set(canonical, entry)
    part.near?.add(canonical)
  }
  return plain.length / PLAIN_VALUES
}

/** A link's fields as a line has them, in this order; those at the end that are empty are left out. */
type Values = readonly [
  LinkRow['id'],
  LinkRow['domainId'],
  LinkRow['canonical'],
  LinkRow['destination'],
  LinkRow['status'],
  LinkRow['query'],
  LinkRow['queryConflict'],
  LinkRow['standing'],
  /** Only where it is another than the canonical one. */
  slug?: LinkRow['slug'] | null,
  startsAt?: LinkRow['startsAt'],
  endsAt?: LinkRow['endsAt'],
  resumesAt?: LinkRow['resumesAt'],
  endedDestination?: LinkRow['endedDestination'],
  robots?: LinkRow['robots'],
  referrerPolicy?: LinkRow['referrerPolicy'],
  forwardsTo?: LinkRow['forwardsTo'],
  unlisted?: true | null,
]

function toValues(row: LinkRow): Values {
  const values: Values = [
    row.id,
    row.domainId,
    row.canonical,
    row.destination,
    row.status,
    row.query,
    row.queryConflict,
    row.standing,
    row.slug === row.canonical ? null : row.slug,
    row.startsAt,
    row.endsAt,
    row.resumesAt,
    row.endedDestination,
    row.robots,
    row.referrerPolicy,
    row.forwardsTo,
    row.unlisted || null,
  ]
  return values.slice(0, values.findLastIndex((value) => value !== null) + 1) as unknown as Values
}

/** Written out field by field: a million rows are read at a start, and objects of one shape are made fast. */
const fromValues = (values: Values): LinkRow => ({
  id: values[0],
  domainId: values[1],
  canonical: values[2],
  destination: values[3],
  status: values[4],
  query: values[5],
  queryConflict: values[6],
  standing: values[7],
  slug: values[8] ?? values[2],
  startsAt: values[9] ?? null,
  endsAt: values[10] ?? null,
  resumesAt: values[11] ?? null,
  endedDestination: values[12] ?? null,
  robots: values[13] ?? null,
  referrerPolicy: values[14] ?? null,
  forwardsTo: values[15] ?? null,
  unlisted: values[16] ?? false,
})

/**
 * Writes the table beside the old snapshot, waits until the disk has it, and renames it into place: a process killed at
 * any point leaves a whole snapshot. Lines of JSON: a head, the domains, the rules, the links, many to a line, a
 * closing count. Yields between steps so that visitors do not wait. Rejects where the disk refuses, and leaves nothing
 * behind.
 */
export async function writeSnapshot(
  file: string,
  table: Table,
  revision = table.revision,
  disk: Disk = DISK,
): Promise<void> {
  const partial = partialOf(file)
  const out = await disk.open(partial, 'w')
  try {
    try {
      for (const lines of snapshotLines(table, revision)) {
        await writeAll(out, Buffer.from(lines.join('\n') + '\n'))
        await new Promise(setImmediate)
      }
      await out.datasync()
    } finally {
      await out.close()
    }
    await disk.rename(partial, file)
  } catch (error) {
    await disk.unlink(partial).catch(() => undefined)
    throw error
  }
  // Only now may the journal before it go.
  await disk.syncFolder(dirname(file))
}

/** Two processes may write a snapshot at one place during a handover. */
const partialOf = (file: string) => `${file}.${process.pid}.partial`

function* snapshotLines(table: Table, revision: number): Generator<string[]> {
  yield [
    JSON.stringify({ format: FORMAT, revision }),
    JSON.stringify([...table.domains.values()].map((part) => part.domain)),
    JSON.stringify([...table.domains.values()].flatMap((part) => part.rules.rules.map((rule) => rule.row))),
  ]
  let count = 0
  let rows: Values[] = []
  let plain: PlainLine['plain'] = []
  for (const [domain, part] of table.domains) {
    for (const [canonical, entry] of part.links) {
      count++
      if (entry.extra === null) plain.push(entry.id, canonical, entry.destination, entry.flags)
      else rows.push(toValues(entryRow(entry, domain, canonical)))
      if (plain.length === ROWS_A_LINE * PLAIN_VALUES) {
        yield [JSON.stringify({ domain, plain } satisfies PlainLine)]
        plain = []
      }
      if (rows.length === ROWS_A_LINE) {
        yield [JSON.stringify({ rows })]
        rows = []
      }
    }
    yield [JSON.stringify({ domain, plain } satisfies PlainLine)]
    plain = []
  }
  yield [JSON.stringify({ rows }), JSON.stringify({ links: count })]
}

/** Removes what processes that were killed left of snapshots they had not finished. */
export async function removePartials(file: string): Promise<void> {
  for (const name of await readdir(dirname(file)).catch(() => [])) {
    const pid = new RegExp(`^${basename(file).replace('.', '\\.')}\\.(\\d+)\\.partial$`).exec(name)?.[1]
    if (pid !== undefined && !existsSync(`/proc/${pid}`)) await unlink(join(dirname(file), name)).catch(() => undefined)
  }
}

/** A table that was loaded goes to disk after this. */
const SNAPSHOT_MS = 5000
/** A snapshot that the disk refused is tried again after this. */
const RETRY_MS = 30_000
/** A journal that has grown beyond this is folded into a new snapshot; starting takes longer with each line of it. */
const MAX_JOURNAL = 16_000_000

/**
 * Keeps what is on disk behind the table: small changes go to the journal, `soon` writes a snapshot in a while, `now`
 * before the end. `revision` is the one the whole table has reached: scheduled changes are not in it yet. Faults are
 * logged, never thrown.
 */
export function snapshotKeeper(
  file: string,
  journal: Journal,
  { table, revision }: { table(): Table; revision(): number },
  log: (line: string) => void,
  disk: Disk = DISK,
) {
  let timer: NodeJS.Timeout | undefined
  let writing = Promise.resolve()
  const now = () => {
    clearTimeout(timer)
    timer = undefined
    writing = writing
      .then(async () => {
        await journal.turn()
        await writeSnapshot(file, table(), revision(), disk)
        await journal.settled()
      })
      .catch((error: Error) => {
        log(`the snapshot cannot be written: ${faultInWords(error)}`)
        soon(RETRY_MS)
      })
    return writing
  }
  const soon = (afterMs = SNAPSHOT_MS) => void (timer ??= setTimeout(() => void now(), afterMs).unref())
  return {
    now,
    soon: () => soon(),
    note(change: Partial<TableChange>) {
      journal.note(revision(), change)
      if (journal.size > MAX_JOURNAL || journal.needsSnapshot) soon()
    },
    /** Before the end: a journal is enough where it is short and complete. */
    async settle() {
      if (timer !== undefined || journal.needsSnapshot) await now()
      await writing
      await journal.flushed()
      clearTimeout(timer)
    },
    /** Writes nothing more by itself. */
    stop: () => clearTimeout(timer),
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
      else if ('plain' in parsed) count += putPlain(table, parsed as PlainLine)
      else {
        const rows = (parsed.rows as Values[]).map(fromValues)
        for (const row of rows) putLink(table, row)
        count += rows.length
      }
    }
  } catch {
    return undefined
  }
  return undefined
}
