import { canonicalSlug, judgeSlug, showHost, SLUG_REFUSALS } from '../../core/address'
import { standingAt } from '../../core/table'
import type { SlugCheck } from '../../core/schemas'
import type { Database } from '../database/open'
import { fieldProblem } from './problem'

/** Whether a slug is free on a domain, taken (and by which link), or refused (and why). */
export async function checkSlug(db: Database, host: string, slug: string): Promise<SlugCheck> {
  const domain = await db.Domain.findOne({ where: { host: host.toLowerCase() } })
  if (!domain) throw fieldProblem('domain', `There is no domain “${host}”; choose one of the organisation’s own.`)
  const refusal = judgeSlug(slug)
  if (refusal) return { state: 'refused', reasons: [SLUG_REFUSALS[refusal.reason](refusal.character ?? '')], link: null }
  const canonical = canonicalSlug(slug, domain)
  if (!canonical) return { state: 'refused', reasons: ['No request could ever reach this slug; choose another.'], link: null }
  const link = await db.Link.findOne({ where: { domainId: domain.id, canonical } })
  if (!link) return { state: 'free', reasons: [], link: null }
  const moment = (date: Date | null) => date?.getTime() ?? null
  const standing = standingAt(
    { standing: link.standing, startsAt: moment(link.startsAt), endsAt: moment(link.endsAt), resumesAt: moment(link.resumesAt) },
    Date.now(),
  )
  const address = `${showHost(domain.host)}/${link.slug}`
  const named = link.title ? `${address}, “${link.title}”` : address
  const reasons = [
    standing === 'retired' || standing === 'ended' ? `Reserved: ${named}, has ${standing === 'ended' ? 'ended' : 'been retired'}, and printed copies may still be out.` : `Taken by ${named}.`,
  ]
  return { state: 'taken', reasons, link: { id: Number(link.id), address, title: link.title, standing } }
}
