import { showHost } from '../../../core/address'
import type { Lane } from '../lane'
import { targetRemedies } from './remedies'

const MAX_NAMED = 4

export const targetsLane: Lane = {
  name: (row) => row.subject,
  affected: (visits) => `${visits} a day go there`,
  async subjects(db, row) {
    const target = await db.Target.findOne({ attributes: ['hash'], where: { hash: row.caseKey } })
    if (!target) return []
    const links = await db.Link.findAll({
      attributes: ['id', 'slug', 'domainId'],
      where: { destinationHash: target.hash, forwardsTo: null },
      order: [['visits28', 'DESC']],
      limit: MAX_NAMED,
    })
    const domains = await db.Domain.findAll({ attributes: ['id', 'host'] })
    const hosts = new Map(domains.map((domain) => [domain.id, showHost(domain.host)]))
    return links.map((link) => ({ label: `${hosts.get(link.domainId)}/${link.slug}`, to: `/links/${link.id}` }))
  },
  remedies: (db, names, row) => targetRemedies(db, names, row),
}
