import { promisify } from 'node:util'
import { gunzip, gzip } from 'node:zlib'
import { QueryTypes, type Transaction } from 'sequelize'
import { unzipSync } from 'fflate'
import type { SourceFile } from '../../../core/formats'
import type { Database } from '../../database/open'
import { Problem } from '../problem'

/** A folder may hold so many files, and so many octets once unpacked. */
const MAX_FILES = 2000
const MAX_OCTETS = 120_000_000
const PART = 4_000_000

/** A file as it is stored, compressed off the main thread. */
export const packSource = (octets: Buffer): Promise<Buffer> => promisify(gzip)(octets, { level: 4 })

/** Stores a packed file beside its intake. */
export async function keepSource(
  db: Database,
  intakeId: number,
  packed: Buffer,
  transaction: Transaction,
): Promise<void> {
  for (let from = 0, part = 0; from < packed.length || part === 0; from += PART, part++)
    await db.sequelize.query('INSERT INTO intake_source (intake_id, part, body) VALUES (?, ?, ?)', {
      replacements: [intakeId, part, packed.subarray(from, from + PART)],
      transaction,
    })
}

/** What the open files of one member may take of the disk, packed. */
const MAX_OPEN_BYTES = 300_000_000

/**
 * Refuses another file of a member whose open files fill their share of the disk already: files that are being read,
 * wait for a decision, or could not be read. An imported or discarded file takes no room.
 */
export async function refuseFullShare(
  db: Database,
  memberId: number | null,
  bytes: number,
  max = MAX_OPEN_BYTES,
): Promise<void> {
  const [row] = await db.sequelize.query<{ bytes: string | null }>(
    `SELECT SUM(LENGTH(source.body)) AS bytes FROM intake JOIN intake_source AS source ON source.intake_id = intake.id
      WHERE intake.member_id <=> ?`,
    { replacements: [memberId], type: QueryTypes.SELECT },
  )
  if (Number(row?.bytes ?? 0) + bytes <= max) return
  throw new Problem(
    409,
    'Too many open files',
    `Your open files would take more than ${max / 1_000_000} MB, the maximum. Import or discard one of them first.`,
  )
}

/** The octets of an intake’s file. */
export async function readSource(db: Database, intakeId: number): Promise<Buffer> {
  const rows = await db.sequelize.query<{ body: Buffer }>(
    'SELECT body FROM intake_source WHERE intake_id = ? ORDER BY part',
    { replacements: [intakeId], type: QueryTypes.SELECT },
  )
  return promisify(gunzip)(Buffer.concat(rows.map(({ body }) => body)), { maxOutputLength: MAX_OCTETS })
}

const isZip = (octets: Uint8Array) => octets[0] === 0x50 && octets[1] === 0x4b && (octets[2] === 3 || octets[2] === 5)

/**
 * The files of what was sent: one, or those of a packed folder (ZIP, APPNOTE.TXT). Refuses in a sentence what would
 * unpack to too much, however little it says it is.
 */
export function filesOf(name: string, octets: Buffer): { files: SourceFile[]; encoding: string } {
  if (!isZip(octets)) {
    const { text, encoding } = decodeText(octets)
    return { files: [{ name, text }], encoding }
  }
  let [files, sum] = [0, 0]
  let unpacked: Record<string, Uint8Array>
  try {
    unpacked = unzipSync(octets, {
      filter({ name: inner, originalSize }) {
        if (inner.endsWith('/') || /(?:^|\/)(?:__MACOSX|\.DS_Store|\.git)(?:\/|$)/.test(inner)) return false
        files++
        sum += originalSize
        if (files > MAX_FILES) throw tooMuch(`The folder holds more than ${MAX_FILES.toLocaleString('en')} files.`)
        if (sum > MAX_OCTETS) throw tooMuch(`Unpacked, the folder is larger than ${MAX_OCTETS / 1_000_000} MB.`)
        return true
      },
    })
  } catch (error) {
    if (error instanceof Problem) throw error
    throw new Problem(422, 'Cannot be unpacked', 'The packed folder is damaged; pack it again as a ZIP file.')
  }
  const texts = Object.entries(unpacked).map(([inner, content]) => ({
    name: inner,
    ...decodeText(Buffer.from(content)),
  }))
  // The folder everything lies in is no part of any address.
  const [root] = texts[0]?.name.split('/') ?? []
  const rooted =
    texts.length > 1 && root !== undefined && texts.every(({ name: inner }) => inner.startsWith(`${root}/`))
  return {
    files: texts.map(({ name: inner, text }) => ({ name: rooted ? inner.slice(root.length + 1) : inner, text })),
    encoding: texts[0]?.encoding ?? 'UTF-8',
  }
}

const tooMuch = (detail: string) => new Problem(422, 'Too large', `${detail} Import it in parts.`)

/** Text in whatever encoding it comes: UTF-8, UTF-16 by its mark, else what Western systems wrote (Windows-1252). */
export function decodeText(octets: Buffer): { text: string; encoding: string } {
  const mark = octets.subarray(0, 2).toString('hex')
  if (mark === 'fffe') return { text: new TextDecoder('utf-16le').decode(octets), encoding: 'UTF-16' }
  if (mark === 'feff') return { text: new TextDecoder('utf-16be').decode(octets), encoding: 'UTF-16' }
  try {
    return { text: new TextDecoder('utf-8', { fatal: true }).decode(octets), encoding: 'UTF-8' }
  } catch {
    return { text: new TextDecoder('windows-1252').decode(octets), encoding: 'Windows-1252' }
  }
}
