import { canonicalSlug, judgeSlug, SLUG_REFUSALS } from '../../../../core/address'
import { lookNeighbours, slipNeighbours, type SurveyChange } from '../../../../core/conflicts'
import type { SurveyLink } from '../../../../core/rows'
import { breachesOf, suggestSlugs } from '../../../../core/slugs'
import { writeLink } from '../../../usecases/links/change-link'
import { findLink } from '../../../usecases/links/find-link'
import { linkState, readTags } from '../../../usecases/links/link-state'
import { canonicalFor, moveAddress } from '../../../usecases/links/rename-link'
import { fieldProblem } from '../../../usecases/problem'
import type { ComposedRemedy } from '../../remedy'
import { addressOf, applying, reasonOf, tried, viewOf, type Context } from './context'

/** A link under another slug, its old one forwarding, as it would be. */
const renamed = (link: SurveyLink, slug: string, canonical: string): SurveyChange => ({
  links: [
    { ...link, slug, canonical },
    { ...link, id: -1, forwardsTo: link.id, visits28: 0 },
  ],
})

export async function rename(context: Context, link: SurveyLink): Promise<ComposedRemedy | undefined> {
  const { db, survey } = context
  const domain = survey.state.domains.get(link.domainId)!
  const table = survey.state.table.domains.get(link.domainId)!
  const title = (await db.Link.findByPk(link.id, { attributes: ['title'] }))?.title ?? ''
  const suggestions = suggestSlugs(
    {
      title,
      destination: link.destination,
      typed: link.slug,
      rules: domain.slugRules,
      capitalsMatter: domain.capitalsMatter,
    },
    {
      isFree: (slug) => {
        const canonical = judgeSlug(slug) ? undefined : canonicalSlug(slug, domain)
        return canonical !== undefined && canonical !== '' && !table.links.has(canonical)
      },
      neighbours: (slug) =>
        lookNeighbours(survey.state, link.domainId, canonicalSlug(slug, domain)!).length +
        slipNeighbours(survey.state, link.domainId, canonicalSlug(slug, domain)!).length,
    },
    12,
  )
  for (const { slug } of suggestions) {
    const verified = tried(context, renamed(link, slug, canonicalSlug(slug, domain)!))
    if (!verified) continue
    return {
      view: viewOf(context, {
        id: `rename-${link.id}`,
        title: `Rename ${addressOf(context, link)}`,
        sentence:
          `It gets another slug, like ${domain.host}/${slug}; the old one goes on forwarding, so that ` +
          'nothing printed stops working.',
        verified,
        asks: ['slug'],
        proposed: slug,
      }),
      apply: applying(
        context,
        `Renamed ${addressOf(context, link)}; the old slug goes on forwarding.`,
        async (change, request) => {
          const wanted = request.slug ?? slug
          const refusal = judgeSlug(wanted)
          if (refusal) throw fieldProblem('slug', SLUG_REFUSALS[refusal.reason](refusal.character ?? ''))
          const found = await findLink(db, link.id, change.transaction)
          const breaches = breachesOf(wanted, domain.slugRules, domain.capitalsMatter)
          if (breaches.length > 0) throw fieldProblem('slug', breaches[0]!.sentence)
          const tags = (await readTags(db, [link.id], change.transaction)).get(link.id)!
          const before = linkState(found.link, tags)
          const after = { ...before, slug: wanted, canonical: canonicalFor(wanted, found.domain), exception: false }
          await moveAddress(db, change, found.link, found.domain, after, true)
          await writeLink(db, change, found.link, found.domain, after)
          await change.record({
            action: 'rename',
            subject: { kind: 'link', id: link.id, label: `${found.domain.host}/${before.slug}` },
            reason: request.reason || reasonOf(context),
            before,
            after: linkState(found.link, tags),
          })
          return { links: [link.id] }
        },
      ),
    }
  }
  return undefined
}
