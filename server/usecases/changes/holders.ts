import { QueryTypes } from 'sequelize'
import { isPermanent } from '../../../core/rows'
import type { LinkHolders, ProposalCounts } from '../../../core/schemas'
import { holdersOf, type PermanentAnswer, type VisitEvent } from '../../../core/visits'
import type { Database } from '../../database/open'
import type { DomainModel } from '../../database/models/domain'
import type { LinkModel } from '../../database/models/link'
import { findLink } from '../links/find-link'
import { rawVisits } from '../traffic/visit-parts'

/** The permanent answers a link and the slugs that forward to it gave within its window before a moment. */
async function readAnswers(
  db: Database,
  link: LinkModel,
  domain: DomainModel,
  until: number,
): Promise<PermanentAnswer[]> {
  const ids = await db.sequelize.query<{ id: number }>(
    `SELECT id FROM link WHERE id = :id OR forwards_to = :id UNION SELECT link_id FROM link_heir WHERE heir_id = :id`,
    { replacements: { id: link.id }, type: QueryTypes.SELECT },
  )
  const last = new Map<string, number>()
  for await (const { visitor, at } of permanentAnswers(db, ids, until - domain.permanenceSeconds * 1000, until))
    last.set(visitor, Math.max(at, last.get(visitor) ?? 0))
  const endsAt = link.endsAt?.getTime() ?? Infinity
  return [...last].map(([visitor, at]) => ({
    visitor,
    at,
    // As the gateway says it: never beyond the link's own end.
    maxAgeSeconds: Math.min(domain.permanenceSeconds, Math.max(0, Math.floor((endsAt - at) / 1000))),
  }))
}

/** The permanent answers that links gave to people who can be told apart, after one moment and until another. */
async function* permanentAnswers(
  db: Database,
  ids: readonly { id: number }[],
  from: number,
  until: number,
): AsyncGenerator<VisitEvent> {
  const wanted = new Set(ids.map(({ id }) => Number(id)))
  for await (const event of rawVisits(db, new Date(from + 1), new Date(until + 1), wanted))
    if ((event.status === 301 || event.status === 308) && event.kind === 'visit' && event.visitor !== '') yield event
}

interface Turn {
  at: number
  status: number
  destination: string
}

/** When a link last gave another permanent answer than before; `undefined` where it never did. */
async function lastTurn(db: Database, id: number): Promise<Turn | undefined> {
  const rows = await db.sequelize.query<{
    at: Date
    live_at: Date | null
    before_state: unknown
    after_state: unknown
  }>(
    `SELECT e.at, e.live_at, COALESCE(p.before_state, e.before_state) AS before_state,
       COALESCE(p.after_state, e.after_state) AS after_state
     FROM ledger_entry e LEFT JOIN ledger_entry_link p ON p.entry_id = e.id AND p.link_id = :id
     WHERE ((e.subject_kind = 'link' AND e.subject_id = :id) OR (e.subject_kind = 'links' AND p.link_id IS NOT NULL))
     ORDER BY e.id DESC LIMIT 50`,
    { replacements: { id }, type: QueryTypes.SELECT },
  )
  const link = await db.Link.findByPk(id, { attributes: ['status'] })
  let status = link?.status as number | undefined
  for (const row of rows) {
    const [before, after] = [row.before_state, row.after_state].map(
      (state) => (typeof state === 'string' ? JSON.parse(state) : state) as Partial<Turn> | null,
    )
    const was = before?.status ?? status
    const turned =
      (before?.destination !== undefined && before.destination !== after?.destination) ||
      (before?.status !== undefined && before.status !== after?.status)
    if (before && turned && was !== undefined && isPermanent(was))
      return { at: new Date(row.live_at ?? row.at).getTime(), status: was, destination: before.destination ?? '' }
    status = was
  }
  return undefined
}

const iso = (moment: number | undefined) => (moment === undefined ? null : new Date(moment).toISOString())

/**
 * Who may still hold an old permanent answer of a link: of before its last change, and, where it is permanent now, who
 * would hold today's if it were changed at once.
 */
export async function linkHolders(db: Database, id: number): Promise<LinkHolders> {
  const { link, domain } = await findLink(db, id)
  const now = Date.now()
  const view = async (changedAt: number) => {
    const { now: holders, until, curve } = holdersOf(await readAnswers(db, link, domain, changedAt), changedAt, now)
    return {
      holders,
      until: iso(until),
      curve: curve.map((point) => ({ ...point, at: new Date(point.at).toISOString() })),
    }
  }
  const turn = await lastTurn(db, id)
  const recent = turn && now - turn.at < domain.permanenceSeconds * 1000 ? turn : undefined
  return {
    windowSeconds: domain.permanenceSeconds,
    changed: recent
      ? { at: new Date(recent.at).toISOString(), was: recent.destination, ...(await view(recent.at)) }
      : null,
    ifChanged: isPermanent(link.status) ? await view(now) : null,
    elsewhere: await fromElsewhere(db, id),
  }
}

/** With which file a link came that answered for good where it stood before; null where it did not. */
async function fromElsewhere(db: Database, id: number): Promise<LinkHolders['elsewhere']> {
  const [row] = await db.sequelize.query<{ at: Date; subject_label: string }>(
    `SELECT e.at, e.subject_label FROM ledger_entry_link p JOIN ledger_entry e ON e.id = p.entry_id
     WHERE p.link_id = ? AND e.action = 'import' AND JSON_VALUE(p.after_state, '$.status') IN (301, 308)
     ORDER BY e.id DESC LIMIT 1`,
    { replacements: [id], type: QueryTypes.SELECT },
  )
  if (!row) return null
  const name = row.subject_label.slice(0, row.subject_label.lastIndexOf(': '))
  return { at: new Date(row.at).toISOString(), file: name }
}

/** Permanent links among the changes of a proposal, and how many people hold what they answer today. */
export async function countHolders(db: Database, proposalId: number): Promise<ProposalCounts['permanent']> {
  const links = await db.sequelize.query<{ id: number; seconds: number }>(
    `SELECT l.id, d.permanence_seconds AS seconds FROM proposal_row r JOIN link l ON l.id = r.link_id
     JOIN domain d ON d.id = l.domain_id
     WHERE r.proposal_id = ? AND r.kind = 'change' AND l.status IN (301, 308)
       AND (JSON_EXISTS(r.after_state, '$.destination') OR JSON_EXISTS(r.after_state, '$.status'))`,
    { replacements: [proposalId], type: QueryTypes.SELECT },
  )
  if (links.length === 0) return { links: 0, holders: 0, until: null }
  const window = Math.max(...links.map(({ seconds }) => Number(seconds)))
  const now = Date.now()
  const holding = new Set<string>()
  let lastAt = 0
  for await (const { linkId, visitor, at } of permanentAnswers(db, links, now - window * 1000, now)) {
    holding.add(`${linkId} ${visitor}`)
    lastAt = Math.max(lastAt, at)
  }
  const last = lastAt > 0 ? lastAt + window * 1000 : undefined
  return { links: links.length, holders: holding.size, until: iso(last) }
}
