import type { Rewritten } from '../../../core/changes'
import type { LinkRow } from '../../../core/rows'
import type { LinkModel } from '../../database/models/link'
import { linkState } from '../links/link-state'

const ms = (text: string | null | undefined) => (text ? Date.parse(text) : null)

/** A link as the table would hold it after the change. */
export function asTableRow({ link, after }: { link: LinkModel; after: Rewritten | null }): LinkRow {
  const state = { ...linkState(link, []), ...after }
  return {
    id: link.id,
    domainId: state.domainId,
    slug: state.slug,
    canonical: state.canonical!,
    forwardsTo: state.forwardsTo,
    destination: state.destination,
    status: state.status,
    query: state.query,
    queryConflict: state.queryConflict,
    standing: state.standing,
    startsAt: ms(state.startsAt),
    endsAt: ms(state.endsAt),
    resumesAt: ms(state.resumesAt),
    endedDestination: state.endedDestination,
    robots: state.robots,
    referrerPolicy: state.referrerPolicy,
    unlisted: state.unlisted,
  }
}
