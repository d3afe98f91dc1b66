import { QueryTypes } from 'sequelize'
import { canonicalSlug, showHost } from '../../../core/address'
import { PASTED } from '../../../core/schemas'
import type { Survey } from '../../../core/conflicts'
import type { Database } from '../../database/open'
import type { IntakeModel } from '../../database/models/intake'
import type { PlainDomain } from './judge-rows'
import { emptyRow, type JudgedRow } from './judged-row'

const PAGE = 1000

/** What is called so because it has no name of its own is no file that could come again. */
const isNameless = (name: string) => name === PASTED || /^\d+ files$/.test(name)

/** What a file that was brought in before under the same name had, and this one has no more. */
export interface LeftOut {
  follows: { id: number; at: string } | undefined
  rows: JudgedRow[]
}

/**
 * Compares a file with the one of its name and domain that was brought in last: addresses that have gone from it stay
 * as they are unless somebody decides to retire them.
 */
export async function findLeftOut(
  db: Database,
  intake: IntakeModel,
  rows: readonly JudgedRow[],
  domains: ReadonlyMap<string, PlainDomain>,
  survey: Survey,
): Promise<LeftOut> {
  const before = (
    await db.Intake.findAll({ where: { state: 'applied', name: intake.name }, order: [['endedAt', 'DESC']], limit: 20 })
  ).find(({ options }) => options.domain === intake.options.domain)
  if (!before || isNameless(intake.name)) return { follows: undefined, rows: [] }
  const at = before.endedAt!
  const byShown = new Map([...domains.values()].map((domain) => [showHost(domain.host), domain]))
  const linkAt = (address: string) => {
    const slash = address.indexOf('/')
    const domain = byShown.get(address.slice(0, slash))
    const canonical = domain && canonicalSlug(address.slice(slash + 1), domain)
    return canonical === undefined ? undefined : survey.state.table.domains.get(domain!.id)?.links.get(canonical)?.id
  }
  const named = new Set(rows.map(({ address, linkId }) => linkId ?? linkAt(address)))
  const gone = new Map<number, string>()
  let common = 0
  for (let after = 0; ;) {
    const page = await db.sequelize.query<{ position: number; address: string }>(
      `SELECT position, address FROM intake_row
       WHERE intake_id = ? AND position > ? AND kind IN ('new', 'same', 'clash')
       ORDER BY position LIMIT ${PAGE}`,
      { replacements: [before.id, after], type: QueryTypes.SELECT },
    )
    if (page.length === 0) break
    after = Number(page.at(-1)!.position)
    for (const { address } of page) {
      const id = linkAt(address)
      const link = id === undefined ? undefined : survey.state.links.get(id)
      if (id !== undefined && named.has(id)) common++
      if (link && link.forwardsTo === null && !named.has(link.id) && link.standing !== 'retired')
        gone.set(link.id, address)
    }
  }
  // Of one name, but about other addresses: another file.
  if (common === 0) return { follows: undefined, rows: [] }
  return { follows: { id: before.id, at: at.toISOString() }, rows: await toRows(db, gone, at) }
}

async function toRows(db: Database, gone: ReadonlyMap<number, string>, at: Date): Promise<JudgedRow[]> {
  const made: JudgedRow[] = []
  const ids = [...gone.keys()]
  for (let from = 0; from < ids.length; from += PAGE)
    for (const link of await db.Link.findAll({ where: { id: ids.slice(from, from + PAGE) } }))
      made.push({
        ...emptyRow('', 0, 0, 'clash'),
        code: 'left-out',
        decision: 'leave',
        address: gone.get(link.id)!,
        destination: link.destination,
        status: link.status!,
        linkId: link.id,
        linkVersion: link.version!,
        state: { standing: 'retired' },
        before: { standing: link.standing! },
        why: `No longer in the file imported on ${at.toISOString().slice(0, 10)}.`,
        would: 'Keep it, or take the file’s: then it is retired and answers 410.',
      })
  return made
}
