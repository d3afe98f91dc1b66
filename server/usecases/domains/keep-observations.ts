import { sameAnswer, serverLabel, type Observation } from '../../../core/dns'
import type { Database } from '../../database/open'
import type { KnownServer } from '../../database/models/domain-watch'
import type { NamesContext } from '../../names/context'
import { readObservation, zoneServers } from './domain-overview'

/**
 * Keeps answers run by run: a row lasts as long as its answer stays the same. Returns the latest of each, servers gone
 * left out.
 */
export async function keepObservations(
  db: Database,
  domainId: number,
  rows: InstanceType<Database['Observation']>[],
  seen: readonly Observation[],
  servers: readonly KnownServer[],
  names: NamesContext,
): Promise<Observation[]> {
  const asked = new Set([
    ...zoneServers(servers).flatMap((server) =>
      server.addresses.map((address) => `authority ${serverLabel(server, address)}`),
    ),
    ...names.resolvers.map((resolver) => `resolver ${resolver.name}`),
  ])
  const key = (observation: { role: string; server: string; name: string; type: string }) =>
    `${observation.role} ${observation.server} ${observation.name} ${observation.type}`
  const old = new Map(rows.map((row) => [key(row), row]))
  const latest = new Map(
    rows.filter((row) => asked.has(`${row.role} ${row.server}`)).map((row) => [key(row), readObservation(row)]),
  )
  await db.sequelize.transaction(async (transaction) => {
    const gone = rows.filter((row) => !asked.has(`${row.role} ${row.server}`)).map((row) => row.id)
    const fresh: Observation[] = []
    for (const observation of seen) {
      const row = old.get(key(observation))
      const before = row && readObservation(row)
      if (row && before && sameAnswer(before, observation)) {
        latest.set(key(observation), { ...observation, firstAt: before.firstAt, hadAnswered: before.hadAnswered })
        await row.update(
          { ttl: observation.ttl, ttlAt: new Date(observation.at), lastAt: new Date(observation.at) },
          { transaction },
        )
      } else {
        const hadAnswered = before !== undefined && (before.status === 'answered' || before.hadAnswered === true)
        fresh.push({ ...observation, hadAnswered })
        latest.set(key(observation), { ...observation, hadAnswered })
        if (row) gone.push(row.id)
      }
    }
    if (gone.length > 0) await db.Observation.update({ latest: false }, { where: { id: gone }, transaction })
    await db.Observation.bulkCreate(
      fresh.map(({ at, firstAt, ...rest }) => ({
        ...rest,
        domainId,
        latest: true,
        ttlAt: new Date(at),
        firstAt: new Date(firstAt),
        lastAt: new Date(at),
      })),
      { transaction },
    )
  })
  return [...latest.values()]
}
