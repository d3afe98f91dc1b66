import { showHost } from '../../../core/address'
import type { Lane } from '../lane'
import { conflictRemedies } from './remedies'

const MAX_NAMED = 4

export const conflictsLane: Lane = {
  name: (row) => row.subject,
  affected: (visits) => `${visits} a day are affected`,
  async subjects(db, row, host) {
    const ids = row.conflict?.links.slice(0, MAX_NAMED) ?? []
    const [links, domains] = await Promise.all([
      db.Link.findAll({ attributes: ['id', 'slug', 'domainId'], where: { id: ids } }),
      db.Domain.findAll({ attributes: ['id', 'host'] }),
    ])
    const hosts = new Map(domains.map((domain) => [domain.id, showHost(domain.host)]))
    const byId = new Map(links.map((link) => [link.id, link]))
    return [
      ...ids.flatMap((id) => {
        const link = byId.get(id)
        return link ? [{ label: `${hosts.get(link.domainId)}/${link.slug}`, to: `/links/${id}` }] : []
      }),
      ...((row.conflict?.rules.length ?? 0) > 0 && row.domainId !== null
        ? [{ label: `The rules of ${host ?? ''}`, to: `/domains/${row.domainId}?tab=rules` }]
        : []),
    ]
  },
  remedies: (db, _names, row) => conflictRemedies(db, row),
}
