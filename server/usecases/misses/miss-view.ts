import { QueryTypes } from 'sequelize'
import { showHost } from '../../../core/address'
import { trendOf } from '../../../core/misses'
import type { Miss } from '../../../core/schemas'
import type { MissModel } from '../../database/models/miss'
import type { Database } from '../../database/open'
import { missKey } from '../../docket/misses/keys'
import { servedBy } from './served'

const DAYS = 28

/** Misses as the API tells them, in the order given. */
export async function toMissViews(db: Database, misses: readonly MissModel[], today: string): Promise<Miss[]> {
  if (misses.length === 0) return []
  const ids = misses.map(({ id }) => id)
  const [domains, days, served, gone, cases] = await Promise.all([
    db.Domain.findAll({ attributes: ['id', 'host'] }),
    db.sequelize.query<{ miss_id: number; ago: number; visitors: number }>(
      `SELECT miss_id, DATEDIFF(:today, day) AS ago, visitors FROM miss_day
       WHERE miss_id IN (:ids) AND day > DATE_SUB(:today, INTERVAL ${DAYS} DAY) AND day <= :today`,
      { replacements: { ids, today }, type: QueryTypes.SELECT },
    ),
    servedBy(db, misses),
    db.Link.findAll({
      attributes: ['id', 'standing'],
      where: { id: misses.flatMap(({ linkId }) => (linkId === null ? [] : [linkId])) },
    }),
    db.DocketCase.findAll({ attributes: ['id', 'caseKey'], where: { caseKey: misses.map(missKey) } }),
  ])
  const hosts = new Map(domains.map(({ id, host }) => [id, host]))
  const daily = new Map<number, number[]>(ids.map((id) => [id, Array<number>(DAYS).fill(0)]))
  for (const { miss_id, ago, visitors } of days) daily.get(Number(miss_id))![DAYS - 1 - Number(ago)] = Number(visitors)
  const caseIds = new Map(cases.map(({ id, caseKey }) => [caseKey, id]))
  return misses.map((miss): Miss => {
    const host = hosts.get(miss.domainId) ?? ''
    const link = gone.find(({ id }) => id === miss.linkId)
    return {
      id: miss.id,
      domain: { id: miss.domainId, host },
      path: miss.path,
      address: `${showHost(host)}/${miss.path}`,
      state: miss.noise ? 'noise' : miss.answered ? 'answered' : 'open',
      gone: link ? { id: link.id, standing: link.standing } : null,
      firstAt: miss.firstAt.toISOString(),
      lastAt: miss.lastAt.toISOString(),
      requests28: miss.requests28,
      visitors28: miss.visitors28,
      daily: daily.get(miss.id)!,
      trend: trendOf(daily.get(miss.id)!),
      noise: miss.noise ? miss.noiseWhy : null,
      ranking: miss.ranking,
      answeredBy:
        miss.answered && miss.answeredBy
          ? {
              by: miss.answeredBy.by,
              address: miss.answeredBy.address,
              at: miss.answeredAt!.toISOString(),
              served: served.get(miss.id) ?? 0,
            }
          : null,
      caseId: caseIds.get(missKey(miss)) ?? null,
      version: miss.version,
    }
  })
}
