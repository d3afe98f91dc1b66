import { canonicalSlug, judgeSlug, showHost, SLUG_REFUSALS } from '../../../core/address'
import { lookNeighbours, servingRule, slipNeighbours, type Survey } from '../../../core/conflicts'
import { breachesOf, shapeOf, spell, suggestSlugs } from '../../../core/slugs'
import { standingAt } from '../../../core/table'
import type { SlugCheck, SlugCheckRequest } from '../../../core/schemas'
import type { Database } from '../../database/open'
import { findDomainNamed } from '../domains/find-domain'
import { drawSlug } from './draw-slug'
import { wholeSlugRules } from '../../../core/rows'
import { currentSurvey } from '../conflicts/survey'

const MAX_SIMILAR = 6

/**
 * Whether a slug is free on a domain, taken (and by which link), or refused (and why), what it is like, and what would
 * do instead.
 */
export async function checkSlug(db: Database, request: SlugCheckRequest): Promise<SlugCheck> {
  const domain = await findDomainNamed(db, request.domain)
  const survey = await currentSurvey(db)
  const id = domain.id
  const rules = wholeSlugRules(domain.slugRules)
  const slug = request.slug.trim()
  const canonical = judgeSlug(slug) ? undefined : canonicalSlug(slug, domain)
  const entry = canonical === undefined ? undefined : survey.state.table.domains.get(id)?.links.get(canonical)
  const holder =
    entry && entry.id !== request.link && entry.leader !== request.link ? await db.Link.findByPk(entry.leader) : null
  const similar = canonical === undefined ? [] : similarTo(survey, id, canonical, request.link)
  const serving = canonical === undefined || entry ? undefined : servingRule(survey.state, id, canonical)
  const view = {
    link: null,
    similar,
    suggestions: suggestSlugs(
      {
        title: request.title,
        destination: request.destination,
        typed: canonical === undefined ? '' : slug,
        rules,
        capitalsMatter: domain.capitalsMatter,
      },
      {
        isFree: (other) => isFree(survey, id, other),
        neighbours: (other) => similarTo(survey, id, canonicalSlug(other, domain)!, request.link).length,
      },
    ),
    shape: canonical === undefined ? [] : shapeOf(slug, domain.capitalsMatter),
    spoken: canonical === undefined ? '' : spell(slug, domain.capitalsMatter),
    rule: serving ? { id: serving.rule.id, pattern: serving.rule.pattern, location: serving.location } : null,
    random: (await drawSlug(db, domain)) ?? null,
  }
  const refusal = judgeSlug(slug)
  if (refusal) return { ...view, state: 'refused', reasons: [SLUG_REFUSALS[refusal.reason](refusal.character ?? '')] }
  if (canonical === undefined || canonical === '')
    return { ...view, state: 'refused', reasons: ['No browser can request this slug. Choose another.'] }
  if (!holder) {
    const breaches = breachesOf(slug, rules, domain.capitalsMatter)
    return {
      ...view,
      state: breaches.length > 0 ? 'refused' : 'free',
      reasons: breaches.map(({ sentence }) => sentence),
    }
  }
  const moment = (date: Date | null) => date?.getTime() ?? null
  const standing = standingAt(
    {
      standing: holder.standing,
      startsAt: moment(holder.startsAt),
      endsAt: moment(holder.endsAt),
      resumesAt: moment(holder.resumesAt),
    },
    Date.now(),
  )
  const address = `${showHost(survey.state.domains.get(holder.domainId)?.host ?? domain.host)}/${holder.slug}`
  const named = holder.title ? `${address}, “${holder.title}”` : address
  const reasons = [
    standing === 'retired' || standing === 'ended'
      ? `Reserved: ${named}, has ${standing === 'ended' ? 'ended' : 'been retired'}, and printed copies may ` +
        'still be out.'
      : entry!.leader !== entry!.id
        ? `Forwards to ${named}.`
        : `Taken by ${named}.`,
  ]
  return { ...view, state: 'taken', reasons, link: { id: holder.id, address, title: holder.title, standing } }
}

const isFree = (survey: Survey, domainId: number, slug: string) => {
  const domain = survey.state.domains.get(domainId)!
  const canonical = judgeSlug(slug) ? undefined : canonicalSlug(slug, domain)
  return canonical !== undefined && canonical !== '' && !survey.state.table.domains.get(domainId)!.links.has(canonical)
}

function similarTo(survey: Survey, domainId: number, canonical: string, own: number | undefined): SlugCheck['similar'] {
  const { state } = survey
  const looks = new Set(lookNeighbours(state, domainId, canonical))
  const slips = slipNeighbours(state, domainId, canonical).filter((id) => !looks.has(id))
  const tell = (how: 'looks-alike' | 'one-slip') => (id: number) => {
    const link = state.links.get(id)!
    return {
      id,
      address: state.address(domainId, link.slug),
      destination: link.destination,
      how,
      visits28: link.visits28,
    }
  }
  return [...[...looks].map(tell('looks-alike')), ...slips.map(tell('one-slip'))]
    .filter(({ id }) => id !== own)
    .sort((a, b) => b.visits28 - a.visits28)
    .slice(0, MAX_SIMILAR)
}
