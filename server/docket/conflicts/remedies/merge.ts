import { destinationKey } from '../../../../core/address'
import type { SurveyLink } from '../../../../core/rows'
import { findLink } from '../../../usecases/links/find-link'
import { mergeLink } from '../../../usecases/links/merge-links'
import type { ComposedRemedy } from '../../remedy'
import { addressOf, applying, reasonOf, tried, viewOf, type Context } from './context'

export function merge(context: Context, into: SurveyLink, links: readonly SurveyLink[]): ComposedRemedy[] {
  const { db, survey, conflict } = context
  const same = conflict.kind === 'same-address'
  const verified = same
    ? 'The two answer at one address already.'
    : tried(context, {
        links: links.flatMap((link) => [
          { ...link, forwardsTo: into.id },
          ...[...(survey.state.forwards.get(link.id) ?? [])].map((id) => ({
            ...survey.state.links.get(id)!,
            forwardsTo: into.id,
          })),
        ]),
      })
  if (!verified || (conflict.count ?? 0) > conflict.links.length) return []
  const names =
    links.length > 3
      ? `The other ${links.length} addresses`
      : links.map((link) => addressOf(context, link)).join(' and ')
  const elsewhere = links.some((link) => destinationKey(link.destination) !== destinationKey(into.destination))
  return [
    {
      view: viewOf(context, {
        id: `merge-${links.map(({ id }) => id).join('-')}-into-${into.id}`,
        title: `Merge into ${addressOf(context, into)}`,
        verified,
        sentence:
          `${names} ${links.length > 1 ? 'go' : 'goes'} on and ${links.length > 1 ? 'answer' : 'answers'} as ` +
          `${addressOf(context, into)} does, from one destination: ` +
          `${into.destination}.` +
          (elsewhere ? ` What ${links.length > 1 ? 'they' : 'it'} led to until now is left.` : ''),
      }),
      apply: applying(context, `Merged into ${addressOf(context, into)}.`, async (change, request) => {
        const leader = await findLink(db, into.id, change.transaction)
        for (const link of links)
          await mergeLink(db, change, (await findLink(db, link.id, change.transaction)).link, leader.link, {
            reason: request.reason || reasonOf(context),
            ...(same && { canonical: null }),
          })
        return { links: [into.id, ...links.map(({ id }) => id)] }
      }),
    },
  ]
}

/** The link a chain leads through, where it could take the first one in. */
export function throughTo(context: Context, link: SurveyLink): ComposedRemedy[] {
  const { survey, conflict } = context
  const [, next] = conflict.via!
  const domain = next === undefined ? undefined : survey.state.table.hosts.get(next.slice(0, next.indexOf('/')))
  const entry = domain?.links.get(next!.slice(next!.indexOf('/') + 1))
  const target = entry && survey.state.links.get(entry.leader)
  return target && target.id !== link.id ? merge(context, target, [link]) : []
}
