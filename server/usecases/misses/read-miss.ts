import { QueryTypes } from 'sequelize'
import { showHost } from '../../../core/address'
import { letterTo } from '../../../core/misses'
import type { MissDetail } from '../../../core/schemas'
import type { Database } from '../../database/open'
import { familyOf } from './family-of'
import { findMiss } from './find-miss'
import { toMissViews } from './miss-view'
import { organisationToday } from './organisation-day'

/** A link is named in a letter from here. */
const MIN_NAMED = 0.8

/** One miss with all that is known of who asked, what they found next, and where its address stands. */
export async function readMiss(db: Database, id: number): Promise<MissDetail> {
  const miss = await findMiss(db, id)
  const [[view], referrers, organisation, found, domains, family] = await Promise.all([
    organisationToday(db).then((today) => toMissViews(db, [miss], today)),
    db.sequelize.query<{
      referrer: string
      requests: number
      last_at: Date
      told_at: Date | null
      told_by: string | null
    }>('SELECT * FROM miss_referrer WHERE miss_id = :id ORDER BY requests DESC, referrer LIMIT 20', {
      replacements: { id },
      type: QueryTypes.SELECT,
    }),
    db.Organisation.findByPk(1, { attributes: ['name'] }),
    db.Link.findAll({
      attributes: ['id', 'slug', 'domainId'],
      where: { id: Object.keys(miss.followed).map(Number) },
    }),
    db.Domain.findAll({ attributes: ['id', 'host'] }),
    miss.answered || miss.noise ? null : familyOf(db, miss.domainId, miss.shape),
  ])
  const hosts = new Map(domains.map((domain) => [domain.id, showHost(domain.host)]))
  const first = miss.ranking?.candidates[0]
  const right = first && first.probability >= MIN_NAMED ? first.address : null
  return {
    ...view!,
    referrers: referrers.map((row) => ({
      page: row.referrer,
      requests: Number(row.requests),
      lastAt: row.last_at.toISOString(),
      toldAt: row.told_at?.toISOString() ?? null,
      toldBy: row.told_by,
      letter: letterTo({
        page: row.referrer,
        wrong: view!.address,
        right: view!.answeredBy ? null : right,
        visitors: Number(row.requests),
        organisation: organisation?.name ?? '',
      }),
    })),
    countries: Object.entries(miss.countries)
      .map(([country, requests]) => ({ country, requests }))
      .sort((a, b) => b.requests - a.requests),
    followed: found
      .map((link) => ({
        link: link.id,
        address: `${hosts.get(link.domainId)}/${link.slug}`,
        visitors: miss.followed[link.id] ?? 0,
      }))
      .sort((a, b) => b.visitors - a.visitors),
    family,
  }
}
