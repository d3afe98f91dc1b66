import type { Transaction } from 'sequelize'
import { canonicalSlug, readHost } from '../../../core/address'
import type { Database } from '../../database/open'

const MAX_HOPS = 20

/**
 * Follows a destination through our own links, on all domains, as a visitor would be led. Returns the addresses
 * passed and whether they come back to `start` (a link not yet saved counts as what it will be).
 */
export async function followDestination(
  db: Database,
  start: { domainId: number; canonical: string },
  destination: string,
  transaction?: Transaction,
): Promise<{ loops: boolean; via: string[] }> {
  const via: string[] = []
  let next: string | null = destination
  for (let hop = 0; next !== null && hop < MAX_HOPS; hop++) {
    let url: URL
    try {
      url = new URL(next)
    } catch {
      return { loops: false, via }
    }
    const host = readHost(url.hostname)
    const domain = host.ok ? await db.Domain.findOne({ where: { host: host.host }, transaction }) : null
    if (!domain) return { loops: false, via }
    const canonical = canonicalSlug(url.pathname.slice(1), domain)
    if (canonical === undefined) return { loops: false, via }
    via.push(`${domain.host}/${canonical}`)
    if (domain.id === start.domainId && canonical === start.canonical) return { loops: true, via }
    const found = await db.Link.findOne({ where: { domainId: domain.id, canonical }, transaction })
    const link = found?.forwardsTo ? await db.Link.findByPk(found.forwardsTo, { transaction }) : found
    if (link && link.domainId === start.domainId && link.canonical === start.canonical) return { loops: true, via }
    const answers: string | null =
      link === null
        ? canonical === ''
          ? domain.rootDestination
          : domain.notFoundDestination
        : link.standing === 'live' || link.standing === 'paused'
          ? link.destination
          : (link.endedDestination ?? domain.endedDestination)
    next = answers
  }
  return { loops: next !== null, via }
}
