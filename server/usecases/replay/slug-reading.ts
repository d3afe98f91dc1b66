import { QueryTypes } from 'sequelize'
import { canonicalSlug } from '../../../core/address'
import { LINK_SELECT, readDomainRows, toLinkRows, type LinkRow } from '../../../core/rows'
import type { SlugDecision } from '../../../core/schemas'
import { finalAddresses } from '../../../core/slugs'
import { dropLink, patchTable, putLink, type Table } from '../../../core/table'
import type { Database } from '../../database/open'
import { queryOf } from '../../database/query'

/** How a domain would read addresses, and what becomes of links that its new slug rules do not fit, by their number. */
export interface SlugReading {
  capitalsMatter: boolean
  trailingSlashMatters: boolean
  decisions: Record<string, SlugDecision>
}

/** Puts a domain that reads addresses otherwise into a table, with its links where they would be then. */
export async function putReading(
  db: Database,
  table: Table,
  { domainId, decisions, ...reading }: SlugReading & { domainId: number },
): Promise<void> {
  const links = await readLinks(db, domainId)
  const canonicals = new Map<number, string>()
  for (const { id, slug } of links) {
    const canonical = canonicalSlug(slug, reading)
    if (canonical !== undefined) canonicals.set(id, canonical)
  }
  const there = links.filter(({ id }) => canonicals.has(id))
  const decided = new Map(
    there.flatMap((link) => {
      const decision = decisions[link.id]
      return decision ? [[link.id, { link, decision }] as const] : []
    }),
  )
  const settling = finalAddresses(there, canonicals, decided, reading)
  let step = settling.next()
  while (!step.done) step = settling.next()
  if (!step.value.ok) throw new Error(`“${step.value.slug}” is taken under the new rules`)
  const { final, owner } = step.value

  const [domain] = (await readDomainRows(queryOf(db))).filter(({ id }) => id === domainId)
  patchTable(table, { domains: [{ ...domain!, ...reading }] })
  for (const { canonical } of links) dropLink(table, domainId, canonical)
  const byId = new Map(links.map((link) => [link.id, link]))
  for (const link of there) {
    const decision = decisions[link.id]
    const canonical = final.get(link.id)
    const now = decided.has(link.id) ? settled(link, decision!, byId) : link
    if (typeof canonical === 'string') putLink(table, { ...now, canonical })
    // What a renamed link was called goes on leading to it, unless the address is another's by then.
    const old = canonicals.get(link.id)!
    if (decision?.do === 'rename' && !owner.has(old))
      putLink(table, { ...link, canonical: old, forwardsTo: link.forwardsTo ?? link.id })
  }
}

/** A link as a decision about it leaves it. */
function settled(link: LinkRow, decision: SlugDecision, byId: ReadonlyMap<number, LinkRow>): LinkRow {
  if (decision.do === 'end') return { ...link, standing: 'ended', resumesAt: null }
  const into = decision.do === 'merge' ? byId.get(decision.into) : undefined
  return into ? { ...into, id: link.id, slug: link.slug, forwardsTo: into.id } : link
}

const PAGE = 5000

async function readLinks(db: Database, domainId: number): Promise<LinkRow[]> {
  const links: LinkRow[] = []
  for (let after = 0; ;) {
    const rows = await db.sequelize.query<Record<string, unknown>>(
      `${LINK_SELECT} WHERE l.domain_id = ? AND l.id > ? ORDER BY l.id LIMIT ${PAGE}`,
      { replacements: [domainId, after], type: QueryTypes.SELECT },
    )
    if (rows.length === 0) return links
    after = Number(rows.at(-1)!.id)
    for (const link of toLinkRows(rows)) links.push(link)
  }
}
