import type { Transaction } from 'sequelize'
import { toWire } from '../../../core/address'
import { readChanges } from '../../../core/ledger-follower'
import { follow, isOnHosts } from '../../../core/table'
import type { Survey } from '../../../core/conflicts'
import type { Database } from '../../database/open'
import { queryOf } from '../../database/query'
import { onOurs, readChanged } from '../conflicts/read-survey'
import { Problem } from '../problem'
import type { Part } from './write-many'

/** Collects, while parts are written, those that can be part of a circle: they lead or led to hosts of ours. */
export class OwnParts {
  readonly links = new Set<number>()
  constructor(private readonly survey: Survey) {}
  add(parts: readonly Part[]): void {
    const { table, links } = this.survey.state
    for (const { linkId, before, after } of parts) {
      // A link that moves to another domain may lead there.
      const moved = after.domainId === undefined ? undefined : links.get(linkId)?.destination
      if (
        [before.destination, after.destination, moved].some(
          (destination) => destination !== undefined && isOnHosts(table, destination),
        )
      )
        this.links.add(linkId)
    }
  }
}

/**
 * Refuses what would lead in a circle, as all stands in this transaction under the lock of all changes: what was
 * written, with what others changed since `revision`.
 */
export async function refuseCircles(
  db: Database,
  transaction: Transaction,
  survey: Survey,
  own: OwnParts,
  revision: number,
): Promise<void> {
  const since = Math.min(revision, survey.revision)
  const changes = await readChanges(queryOf(db, transaction), since, { addresses: false })
  const idsOf = (isTogether: boolean) =>
    changes.links.filter((link) => link.together === isTogether).map(({ id }) => id)
  const late = new Set([...idsOf(true), ...survey.behind.keys()])
  const others = [...idsOf(false), ...(await onOurs(db, survey, late, transaction))]
  if (own.links.size === 0 && others.length === 0) return
  const links = [...new Set([...own.links, ...others])]
  const change = await readChanged(db, { links, domains: changes.domains, rules: changes.rules }, transaction)
  const inverse = survey.state.putRows(change)
  try {
    for (const link of change.links ?? []) {
      if (link.canonical === null || !survey.state.isOurs(link.destination)) continue
      const { host } = survey.state.domains.get(link.domainId)!
      const way = follow(survey.state, host, '/' + toWire(link.canonical))
      if (way.loopsTo !== undefined)
        throw new Problem(
          422,
          'Redirect loop',
          `${host}/${link.slug} would redirect in a loop, through ${way.via.slice(0, 4).join(', ')}. ` +
            'Nothing was changed.',
        )
    }
  } finally {
    survey.state.putRows(inverse)
  }
}
