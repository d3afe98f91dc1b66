import { UniqueConstraintError } from 'sequelize'
import type { Settled, SettleRequest } from '../../../core/schemas'
import { showHost } from '../../../core/address'
import type { Database } from '../../database/open'
import { runChange, type Actor, type Change } from '../ledger/change'
import { asOneEntry } from '../ledger/one-entry'
import { Problem } from '../problem'
import { decideMiss } from './decide-miss'
import { findMiss } from './find-miss'

/** Ends a preview: nothing of it is kept. */
class Previewed extends Error {
  constructor(readonly settled: Settled) {
    super('previewed')
  }
}

const DEFAULT_REASON = 'From what was not found'

/** Visitors are served by these; the others only spare them a search. */
const SERVES = new Set(['alias', 'link', 'back'])

/**
 * Settles several misses in one go, all or none, as one entry of the ledger. As a preview the same is done and taken
 * back, so that what it tells is what would happen: what each would have served, and why one cannot be done.
 */
export async function settleMisses(db: Database, actor: Actor, request: SettleRequest): Promise<Settled> {
  try {
    return await runChange(
      db,
      actor,
      async (change) => {
        const { result, entry } = await asOneEntry(
          db,
          change,
          (noting) => settleAll(db, noting, request),
          ({ items }, links) => ({
            action: 'settle-misses',
            subject: { kind: 'miss', id: 0, label: `${items[0]!.address} and ${items.length - 1} more` },
            links,
            reason: request.reason || DEFAULT_REASON,
            before: { count: request.items.length },
            after: { count: request.items.length },
          }),
        )
        return { ...result, entry }
      },
      { surveyed: true },
    )
  } catch (error) {
    if (error instanceof Previewed) return error.settled
    throw error
  }
}

async function settleAll(db: Database, change: Change, request: SettleRequest): Promise<Settled> {
  const run = (sql: string) => db.sequelize.query(sql, { transaction: change.transaction })
  const hosts = new Map(
    (await db.Domain.findAll({ attributes: ['id', 'host'], transaction: change.transaction })).map(({ id, host }) => [
      id,
      showHost(host),
    ]),
  )
  const items: Settled['items'] = []
  for (const [at, item] of request.items.entries()) {
    await run('SAVEPOINT one_miss')
    const miss = await findMiss(db, item.miss, change)
    const told = {
      miss: miss.id,
      address: `${hosts.get(miss.domainId)}/${miss.path}`,
      decision: item.decision,
      visitors28: SERVES.has(item.decision) ? miss.visitors28 : 0,
    }
    try {
      const reason = request.reason || DEFAULT_REASON
      items.push({ ...told, sentence: await decideMiss(db, change, miss, { ...item, reason }), fault: null })
    } catch (error) {
      const problem = asProblem(error)
      if (!problem) throw error
      if (!request.preview)
        throw new Problem(problem.status, problem.title, `${told.address}: ${problem.detail}`, [
          { pointer: `/items/${at}`, detail: problem.detail },
        ])
      await run('ROLLBACK TO SAVEPOINT one_miss')
      items.push({ ...told, visitors28: 0, sentence: '', fault: problem.detail })
    }
  }
  const served = items.reduce((sum, { visitors28 }) => sum + visitors28, 0)
  const settled: Settled = { entry: null, items, visitors28: served }
  if (request.preview) throw new Previewed(settled)
  return settled
}

function asProblem(error: unknown): Problem | undefined {
  if (error instanceof Problem) return error
  return error instanceof UniqueConstraintError
    ? new Problem(409, 'The slug is taken', 'Somebody has made a link of it meanwhile.')
    : undefined
}
