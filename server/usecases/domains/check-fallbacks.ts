import { follow } from '../../../core/table'
import { readHost } from '../../../core/address'
import type { State } from '../../database/models/ledger-entry'
import type { DomainModel } from '../../database/models/domain'
import type { Change } from '../ledger/change'
import { checkDestination } from '../links/link-rules'
import { fieldProblem } from '../problem'

const FALLBACKS = ['rootDestination', 'notFoundDestination', 'endedDestination'] as const

/**
 * Refuses fallbacks as a link's destination would be refused: those whose scheme the domain does not list, and those
 * that lead back to where they are asked from, through whatever addresses of ours.
 */
export function checkFallbacks(change: Change, domain: DomainModel, before: State, after: State): void {
  const appSchemes = after.appSchemes as string[]
  const given = FALLBACKS.filter((field) => typeof after[field] === 'string')
  if (JSON.stringify(before.appSchemes) !== JSON.stringify(appSchemes))
    for (const field of given) checkDestination(field, after[field] as string, { appSchemes })
  const changed = given.filter((field) => after[field] !== before[field])
  if (changed.length === 0) return
  for (const field of changed) checkDestination(field, after[field] as string, { appSchemes })
  const { state } = change.survey
  const row = state.domains.get(domain.id)
  if (!row) return
  const fallbacks = Object.fromEntries(FALLBACKS.map((field) => [field, after[field] as string | null]))
  const inverse = state.putRows({ domains: [{ ...row, ...fallbacks }] })
  try {
    for (const field of changed) {
      const url = new URL(after[field] as string)
      const host = readHost(url.hostname)
      if (!host.ok || !state.isOurs(url.href)) continue
      const way = follow(state, host.host, url.pathname + url.search)
      if (way.loopsTo === undefined) continue
      const through = way.via.length > 1 ? `, through ${way.via.slice(0, 4).join(', ')}` : ''
      throw fieldProblem(field, `Redirect loop${through}. Enter another address.`)
    }
  } finally {
    state.putRows(inverse)
  }
}
