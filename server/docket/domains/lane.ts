import type { Lane } from '../lane'
import { domainRemedies } from './remedies'

export const domainsLane: Lane = {
  name: (row, host) => host ?? row.subject,
  affected: (visits, host) => `${visits} a day go through ${host ?? 'it'}`,
  subjects: async (_db, row, host) =>
    row.domainId === null ? [] : [{ label: host ?? row.subject, to: `/domains/${row.domainId}` }],
  remedies: domainRemedies,
}
