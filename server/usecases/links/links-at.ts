import { QueryTypes } from 'sequelize'
import { canonicalSlug, readHost } from '../../../core/address'
import { pastedAddresses } from '../../../core/search'
import type { Database } from '../../database/open'

/**
 * The numbers of the links that short addresses belong to, as people paste them, by a slug of their own or a further
 * one. Without a host, a slug of any domain.
 */
export async function linksAt(db: Database, pasted: string): Promise<number[]> {
  const domains = await db.Domain.findAll()
  const addresses = pastedAddresses(pasted)
  const places: [domainId: number, canonical: string][] = []
  const seek = (path: string, of: typeof domains) => {
    for (const domain of of) {
      const canonical = canonicalSlug(path.replace(/^\/+/, ''), domain)
      if (canonical !== undefined && canonical !== '') places.push([domain.id, canonical])
    }
  }
  for (const address of addresses) {
    const end = address.indexOf('/')
    const host = readHost(end === -1 ? address : address.slice(0, end))
    if (host.ok && end !== -1)
      seek(
        address.slice(end),
        domains.filter((domain) => domain.host === host.host || domain.host === `www.${host.host}`),
      )
  }
  // Only a slug, or a path.
  if (addresses.length === 0 && !/\s/.test(pasted.trim())) seek(pasted.trim(), domains)
  if (places.length === 0) return []
  const rows = await db.sequelize.query<{ id: number }>(
    `SELECT DISTINCT COALESCE(forwards_to, id) AS id FROM link
      WHERE ${places.map(() => '(domain_id = ? AND canonical = ?)').join(' OR ')}`,
    { replacements: places.flat(), type: QueryTypes.SELECT },
  )
  return rows.map(({ id }) => Number(id))
}
