import { QueryTypes, type Transaction } from 'sequelize'
import { rewrite, type Rewritten } from '../../../core/changes'
import { showHost, toWire } from '../../../core/address'
import { copyTable, follow, hostIn, isOnHosts, patchTable, type Table } from '../../../core/table'
import { toSurveyDomain, type LinkRow } from '../../../core/rows'
import type { ProposalCounts } from '../../../core/schemas'
import type { Database } from '../../database/open'
import type { DomainModel } from '../../database/models/domain'
import type { LinkModel } from '../../database/models/link'
import type { ProposalModel } from '../../database/models/proposal'
import { circleSurvey } from '../conflicts/survey'
import { findDomainNamed } from '../domains/find-domain'
import type { LeasedWork } from '../jobs/leased-work'
import { retryOnLockConflict } from '../ledger/lock-conflicts'
import { destinationHash, linkState, readTags } from '../links/link-state'
import { slugTaken } from '../links/rename-link'
import { wantChecked } from '../targets/want-checked'
import { yielder } from '../yield-to-event-loop'
import { asTableRow } from './as-table-row'
import { countRows } from './count-rows'
import { countHolders } from './holders'
import { selectLinks } from './select-links'

const PAGE = 500

/** A row of a proposal as it is written. */
interface Row {
  link: LinkModel
  host: string
  kind: 'change' | 'clash' | 'unchanged' | 'refused'
  before: Rewritten | null
  after: Rewritten | null
  hash: string | null
  why: string
}

/** Work on a proposal. */
export type ProposalWork = LeasedWork<ProposalModel['state']>

/**
 * Calculates a proposal under its lease, which ends with it: which links it affects, what each becomes, and what would
 * be a redirect loop. Rows that somebody left out stay left out. Nothing of the register is touched, and once the lease
 * is lost no row of the proposal is.
 */
export async function computeProposal(
  db: Database,
  proposal: ProposalModel,
  work: ProposalWork,
  then: 'ready' | 'waiting',
): Promise<void> {
  const survey = await circleSurvey(db)
  const revision = survey.revision
  const { links, unknown } = await selectLinks(db, proposal.selection)
  const leftOut = await readLeftOut(db, proposal.id)
  await whileLeased(db, work, { total: links.length, done: 0, problem: '' }, async (transaction) => {
    await db.sequelize.query('DELETE FROM proposal_row WHERE proposal_id = ?', {
      replacements: [proposal.id],
      transaction,
    })
  })
  const domains = new Map((await db.Domain.findAll()).map((domain) => [domain.id, domain]))
  const target = proposal.spec.domain ? await findDomainNamed(db, proposal.spec.domain) : undefined
  const taken = new Map<string, string>()
  const movesOn = proposal.spec.steps.some((step) => step.do === 'follow')
  const yieldNow = yielder()
  const changed: Row[] = []
  let written = 0
  for (let from = 0; from < links.length; from += PAGE) {
    const ids = links.slice(from, from + PAGE)
    const [models, tags] = await Promise.all([db.Link.findAll({ where: { id: ids } }), readTags(db, ids)])
    const moved = movesOn ? await readMoved(db, models) : new Map<string, string>()
    const byId = new Map(models.map((model) => [model.id, model]))
    const rows: Row[] = []
    for (const id of ids) {
      const link = byId.get(id)
      if (!link) continue
      const domain = domains.get(link.domainId)!
      rows.push(rowOf(link, domain, tags.get(id)!, proposal, moved.get(link.destinationHash), target))
      await yieldNow()
    }
    if (target) await findTaken(db, target, rows, taken)
    written += rows.length
    changed.push(...rows.filter(({ kind, after }) => kind === 'change' && mayLoop(after)))
    const first = written - rows.length
    await whileLeased(db, work, { done: Math.min(links.length, from + PAGE) }, (transaction) =>
      writeRows(db, transaction, proposal.id, first, rows, leftOut),
    )
  }
  await findLoops(db, proposal.id, work, survey.state.table, changed)
  const checked = await wantChecks(db, proposal.id)
  const counts: ProposalCounts = {
    ...(await countRows(db, proposal.id)),
    unknown: unknown.slice(0, 1000),
    permanent: await countHolders(db, proposal.id),
  }
  await work.finish({
    to: then,
    values: {
      revision,
      counts: JSON.stringify(counts),
      problem: checked ? '' : 'New destinations on hosts that cannot be reached are not checked.',
    },
  })
  await proposal.reload()
}

/** Writes with the job's row locked: whoever takes the job away does so before or after, never in between. */
const whileLeased = (
  db: Database,
  work: ProposalWork,
  progress: { total?: number; done?: number; problem?: string },
  write: (transaction: Transaction) => Promise<unknown>,
): Promise<void> =>
  retryOnLockConflict(() =>
    db.sequelize.transaction(async (transaction) => {
      await work.hold(transaction)
      await write(transaction)
    }),
  ).then(() => work.beat(progress))

function rowOf(
  link: LinkModel,
  domain: DomainModel,
  tags: string[],
  { spec, at }: ProposalModel,
  movedTo: string | undefined,
  target: DomainModel | undefined,
): Row {
  const verdict = rewrite(linkState(link, tags), spec, {
    appSchemes: domain.appSchemes,
    at: (at ?? new Date()).getTime(),
    movedTo,
    target: target && { ...toSurveyDomain(target), appSchemes: target.appSchemes },
  })
  const base = { link, host: domain.host, before: null, after: null, hash: null, why: '' }
  if (verdict.kind === 'unchanged') return { ...base, kind: 'unchanged' }
  if (verdict.kind === 'refused') return { ...base, kind: 'refused', why: verdict.sentence }
  const { before, after } = verdict
  const hash = after.destination === undefined ? null : destinationHash(after.destination)
  return { ...base, kind: 'change', before, after, hash }
}

/** Marks the rows whose address on another domain is taken: by a link there, or by one of `taken`, moved before it. */
async function findTaken(db: Database, target: DomainModel, rows: Row[], taken: Map<string, string>): Promise<void> {
  const moving = rows.filter(({ kind, after }) => kind === 'change' && after?.domainId !== undefined)
  if (moving.length === 0) return
  const holders = await db.Link.findAll({
    attributes: ['id', 'slug', 'title', 'canonical', 'forwardsTo'],
    where: { domainId: target.id, canonical: moving.map(({ after }) => after!.canonical!) },
  })
  const byCanonical = new Map(holders.map((holder) => [holder.canonical, holder]))
  const host = showHost(target.host)
  for (const row of moving) {
    const canonical = row.after!.canonical!
    const holder = byCanonical.get(canonical)
    const other = taken.get(canonical)
    taken.set(canonical, `${showHost(row.host)}/${row.link.slug}`)
    // A slug that leads to this very link gives way to it.
    const why =
      holder && holder.forwardsTo !== row.link.id
        ? slugTaken({ host }, holder.slug, holder).message
        : other && `On ${host} it would be the same address as ${other}, which is moved as well.`
    if (why) Object.assign(row, { kind: 'clash', why })
  }
}

/** Where destinations of these links moved for good, by their hash. */
async function readMoved(db: Database, links: readonly LinkModel[]): Promise<Map<string, string>> {
  const targets = await db.Target.findAll({
    attributes: ['hash', 'final'],
    where: { hash: links.map(({ destinationHash: hash }) => hash), verdict: 'moved-permanently' },
  })
  return new Map(targets.flatMap(({ hash, final }) => (final === null ? [] : [[hash, final] as const])))
}

async function readLeftOut(db: Database, id: number): Promise<Set<number>> {
  const rows = await db.sequelize.query<{ link_id: number }>(
    'SELECT link_id FROM proposal_row WHERE proposal_id = ? AND left_out',
    { replacements: [id], type: QueryTypes.SELECT },
  )
  return new Set(rows.map((row) => Number(row.link_id)))
}

async function writeRows(
  db: Database,
  transaction: Transaction,
  id: number,
  first: number,
  rows: readonly Row[],
  leftOut: ReadonlySet<number>,
): Promise<void> {
  if (rows.length === 0) return
  await db.sequelize.query(
    `INSERT INTO proposal_row (proposal_id, position, link_id, kind, left_out, address, link_version, visits_28,
       before_state, after_state, hash, why) VALUES ?`,
    {
      replacements: [
        rows.map(({ link, host, kind, before, after, hash, why }, index) => [
          id,
          first + index + 1,
          link.id,
          kind,
          leftOut.has(link.id),
          `${showHost(host)}/${link.slug}`.slice(0, 900),
          link.version,
          link.visits28,
          before && JSON.stringify(before),
          after && JSON.stringify(after),
          hash,
          why.slice(0, 900),
        ]),
      ],
      transaction,
    },
  )
}

/** Whether a change of a link can make anything lead in a circle: where it leads, or that it answers, is another. */
const mayLoop = (after: Rewritten | null) =>
  after !== null &&
  (after.destination !== undefined ||
    after.domainId !== undefined ||
    after.standing !== undefined ||
    after.endedDestination !== undefined)

/** Marks the rows by which something would lead in a circle. */
async function findLoops(
  db: Database,
  id: number,
  work: ProposalWork,
  table: Table,
  rows: readonly Row[],
): Promise<void> {
  const ours = rows.filter(
    ({ kind, link, after }) =>
      kind === 'change' &&
      (after!.destination !== undefined || after!.domainId !== undefined) &&
      isOnHosts(table, after!.destination ?? link.destination),
  )
  if (ours.length === 0) return
  const next = copyTable(table)
  const yieldNow = yielder()
  for (const row of rows) {
    if (row.kind === 'change' && row.link.canonical !== null) patchTable(next, { links: tableRowsOf(row) })
    await yieldNow()
  }
  for (const { link, after, host } of ours) {
    if (link.canonical === null) continue
    await yieldNow()
    const at = after!.domainId === undefined ? host : table.domains.get(after!.domainId)!.domain.host
    const way = follow({ table: next, now: Date.now() }, at, '/' + toWire(after!.canonical ?? link.canonical))
    if (way.loopsTo === undefined) continue
    const to = hostIn(after!.destination ?? link.destination)
    const why = `Redirect loop, through ${way.via.slice(0, 4).join(', ')} (${to}).`
    await whileLeased(db, work, {}, (transaction) =>
      db.sequelize.query("UPDATE proposal_row SET kind = 'clash', why = ? WHERE proposal_id = ? AND link_id = ?", {
        replacements: [why.slice(0, 900), id, link.id],
        transaction,
      }),
    )
  }
}

/** What the table would hold of a link after the change: it, and where it was moved what it was called before. */
function tableRowsOf(row: Row): LinkRow[] {
  const link = asTableRow(row)
  if (row.after?.domainId === undefined) return [link]
  const { id, domainId, canonical } = row.link
  return [link, { ...link, id: -id, domainId, canonical: canonical!, forwardsTo: id }]
}

/** Has the new destinations checked by the workers; false where some cannot be asked. */
async function wantChecks(db: Database, id: number): Promise<boolean> {
  const rows = await db.sequelize.query<{ hash: string; destination: string }>(
    `SELECT r.hash, MIN(JSON_VALUE(r.after_state, '$.destination')) AS destination FROM proposal_row r
     WHERE r.proposal_id = ? AND r.hash IS NOT NULL AND r.kind = 'change' GROUP BY r.hash`,
    { replacements: [id], type: QueryTypes.SELECT },
  )
  return wantChecked(db, rows, { urgent: true })
}
