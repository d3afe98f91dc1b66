import { QueryTypes } from 'sequelize'
import { readHost, readSlug, readTypedAddress } from '../../../core/address'
import { tableOfStates } from '../../../core/ledger'
import { explain, type Answer } from '../../../core/table'
import type { PastAnswer, PastQuery } from '../../../core/schemas'
import type { Database } from '../../database/open'
import { readDomainRows } from '../../../core/rows'
import { queryOf } from '../../database/query'
import { fieldProblem } from '../problem'
import { pastStatesAround } from './past-states'

/** What an address was answered with at a moment of the past, by the gateway's own code, and who decided that. */
export async function lookUpPast(db: Database, query: PastQuery): Promise<PastAnswer> {
  const typed = readTypedAddress(query.address)
  const host = typed.ok && typed.host !== undefined ? readHost(typed.host) : undefined
  if (!typed.ok || !host?.ok) throw fieldProblem('address', 'Give a short address, like ansl.example/fares.')
  const at = new Date(query.at)
  if (at.getTime() > Date.now())
    throw fieldProblem('at', 'Enter a date and time in the past. The trace shows what an address will lead to.')
  const domains = await readDomainRows(queryOf(db))
  const path = typed.target.replace(/[?#].*$/, '')
  const around = domains.flatMap((domain) => {
    if (domain.host !== host.host) return []
    const reading = readSlug(path, domain)
    return reading.ok ? [{ domainId: domain.id, canonical: reading.canonical }] : []
  })
  const states = await pastStatesAround(db, at, around)
  const table = tableOfStates(states, new Map(domains.map((domain) => [domain.id, domain])))
  const request = {
    method: 'GET',
    host: host.host,
    target: typed.target,
    visitor: { acceptLanguage: query.acceptLanguage },
  }
  const { answer, verdict } = explain(table, request, at.getTime())
  return {
    address: host.host + typed.target,
    at: at.toISOString(),
    status: answer.status,
    location: answer.location,
    by: whatAnswered(answer),
    link: answer.linkId || null,
    rule: answer.ruleId || null,
    sentence: verdict.sentence + '.',
    decided: await whoDecided(db, answer, at),
  }
}

function whatAnswered({ linkId, ruleId, outcome }: Answer): PastAnswer['by'] {
  if (linkId) return 'link'
  if (ruleId) return 'rule'
  return outcome === 'root' || outcome === 'not-found' ? outcome : 'none'
}

/** Fields by which an answer comes to be another. */
const DECIDING = ['destination', 'status', 'standing', 'slug', 'canonical', 'forwardsTo', 'startsAt', 'endsAt'].concat([
  'pattern',
  'active',
  'position',
  'condition',
  'rootDestination',
  'notFoundDestination',
  'endedDestination',
])
const MAX_ENTRIES = 200

/** The newest entry until a moment by which what answered came to answer so. */
async function whoDecided(db: Database, answer: Answer, at: Date): Promise<PastAnswer['decided']> {
  const [kind, id] = answer.linkId
    ? ['link', answer.linkId]
    : answer.ruleId
      ? ['rule', answer.ruleId]
      : ['domain', answer.domainId]
  if (!id) return null
  const rows = await db.sequelize.query<{
    id: number
    at: Date
    actor: string
    action: string
    reason: string
    before_state: unknown
    after_state: unknown
  }>(
    `SELECT e.id, e.at, e.actor, e.action, e.reason, COALESCE(p.before_state, e.before_state) AS before_state,
       COALESCE(p.after_state, e.after_state) AS after_state
     FROM ledger_entry e LEFT JOIN ledger_entry_link p ON p.entry_id = e.id AND p.link_id = :link
     WHERE COALESCE(e.live_at, e.at) <= :at AND e.revision IS NOT NULL
       AND ((e.subject_kind = :kind AND e.subject_id = :id) OR (e.subject_kind = 'links' AND p.link_id IS NOT NULL))
     ORDER BY e.revision DESC LIMIT ${MAX_ENTRIES}`,
    { replacements: { at, kind, id, link: kind === 'link' ? id : 0 }, type: QueryTypes.SELECT },
  )
  const deciding =
    rows.find((row) => {
      const [before, after] = [row.before_state, row.after_state].map(
        (state) => (typeof state === 'string' ? JSON.parse(state) : state) as Record<string, unknown> | null,
      )
      if (!before) return true
      return DECIDING.some(
        (field) => field in before && JSON.stringify(before[field]) !== JSON.stringify(after?.[field]),
      )
    }) ?? rows.at(-1)
  return deciding
    ? {
        entry: Number(deciding.id),
        at: new Date(deciding.at).toISOString(),
        actor: deciding.actor,
        action: deciding.action,
        reason: deciding.reason,
      }
    : null
}
