import type { Table } from '../table'
import type { Address } from './read-changes'

/** An address that a link had before a change. */
export interface FormerAddress extends Address {
  /** The link, or the further slug. */
  link: number
}

/**
 * The former addresses that still belong to their link in `table`. An address that another link has taken since must
 * keep answering, whatever order the changes are read in.
 */
export const stillOwned = (table: Table, former: readonly FormerAddress[]): Address[] =>
  former.flatMap(({ domainId, canonical, link }) => {
    const entry = table.domains.get(domainId)?.links.get(canonical)
    return entry?.id === link ? [{ domainId, canonical }] : []
  })
