import { QueryTypes, type Transaction } from 'sequelize'
import { readsOtherwise, Survey, type SurveyChange, type SurveyDiff } from '../../../core/conflicts'
import { readChanges, readRevision } from '../../../core/ledger-follower'
import { LINK_FIELDS, RULE_FIELDS, rowReader, toSurveyDomain, type SurveyLink } from '../../../core/rows'
import type { Database } from '../../database/open'
import { queryOf } from '../../database/query'
import { yielder } from '../yield-to-event-loop'

const PAGE = 1000
const linkReader = rowReader(LINK_FIELDS, 'survey')
const ruleReader = rowReader(RULE_FIELDS, 'survey')
const LINK_COLUMNS = linkReader.columns.join(', ')

type Raw = Record<string, unknown>

async function select(db: Database, sql: string, replacements: unknown[], transaction?: Transaction): Promise<Raw[]> {
  return db.sequelize.query<Raw>(sql, { replacements, type: QueryTypes.SELECT, transaction })
}

/** Reads the whole register into a survey that has not been scanned yet. */
export async function readSurvey(
  db: Database,
  transaction?: Transaction,
  yieldNow = yielder(),
  survey = new Survey(),
): Promise<Survey> {
  // First the revision: what changes while rows are read is read again afterwards.
  survey.revision = await readRevision(queryOf(db, transaction))
  const domains = await db.Domain.findAll({ transaction })
  survey.load(domains.map(toSurveyDomain), [], [], Date.now())
  const page = (after: number) =>
    select(db, `SELECT ${LINK_COLUMNS} FROM link WHERE id > ? ORDER BY id LIMIT ${PAGE}`, [after], transaction)
  for (let next = page(0); ;) {
    const rows = await next
    if (rows.length === 0) break
    // The database reads on while these are taken in.
    next = page(Number(rows.at(-1)!.id))
    next.catch(() => undefined)
    for (const row of rows) {
      survey.add([linkReader.fromColumns(row)])
      await yieldNow()
    }
  }
  survey.load([], [], (await db.Rule.findAll({ transaction })).map(ruleReader.fromModel), Date.now())
  return survey
}

const MAX_ENTRIES = 20_000
/** Links changed together beyond this are taken in later, step by step. */
const FEW_TOGETHER = 100
/** So many are read at once, and so few of them taken in before others get their turn. */
const BEHIND_AT_ONCE = 250
const BEHIND_A_STEP = 4

interface Since {
  revision: number
  change: SurveyChange
  /** Links of changes to very many, whose rows are not in `change`. */
  behind: number[]
}

/** All that has an entry in the ledger after a survey’s revision, as it is now; `undefined` where that is too much. */
async function changedSince(db: Database, survey: Survey, transaction?: Transaction): Promise<Since | undefined> {
  const changes = await readChanges(queryOf(db, transaction), survey.revision, { limit: MAX_ENTRIES, addresses: false })
  if (!changes.complete) return undefined
  const several = [...new Set(changes.links.filter(({ together }) => together).map(({ id }) => id))]
  const behind = several.length > FEW_TOGETHER ? several : []
  const single = changes.links.filter(({ together }) => !together).map(({ id }) => id)
  const links = [...new Set([...single, ...(behind.length > 0 ? [] : several)])]
  const change = await readChanged(db, { links, domains: changes.domains, rules: changes.rules }, transaction)
  // The watch of names notes what it sees in the ledger; most of that is nothing to us.
  change.domains = change.domains?.filter(
    (domain) => JSON.stringify(domain) !== JSON.stringify(survey.state.domains.get(domain.id)),
  )
  return { revision: changes.revision, change, behind }
}

/**
 * Brings a survey up to the ledger's revision. Several may do so at once: rows that were read earlier than what it
 * holds already are let go. Gives what changed, or `undefined` where so much did that it must be made anew.
 */
export async function catchUp(
  db: Database,
  survey: Survey,
  transaction?: Transaction,
): Promise<SurveyDiff | undefined> {
  const since = await changedSince(db, survey, transaction)
  // What concerns every link of a domain is gone through from the start, in steps.
  if (!since || survey.needsRescan(since.change)) return undefined
  const { revision, change, behind } = since
  if (survey.revision >= revision) return survey.advance(Date.now())
  survey.revision = revision
  for (const id of behind) survey.behind.set(id, revision)
  // All rules of a domain were read for their order; most are as they were.
  change.rules = change.rules?.filter(
    (rule) => JSON.stringify(rule) !== JSON.stringify(survey.state.rules.get(rule.id)),
  )
  const came = survey.advance(Date.now())
  const diff = survey.apply(change)
  return {
    added: [...came.added, ...diff.added],
    removed: [...came.removed, ...diff.removed],
    changed: [...came.changed, ...diff.changed],
  }
}

/**
 * Takes some of the links in that a survey is behind with, a few at a time; of all of them, or of those named. Rows
 * that somebody else took in meanwhile, or that changed again, are let go.
 */
export async function refreshStale(
  db: Database,
  survey: Survey,
  yieldNow: () => Promise<void> | undefined,
  wanted: Iterable<number> = survey.behind.keys(),
  transaction?: Transaction,
): Promise<SurveyDiff> {
  const picked = new Map<number, number>()
  for (const id of wanted) {
    if (picked.size === BEHIND_AT_ONCE) break
    if (survey.behind.has(id)) picked.set(id, survey.behind.get(id)!)
  }
  const change = await readChanged(db, { links: [...picked.keys()], domains: [], rules: [] }, transaction)
  const still = (id: number) => survey.behind.get(id) === picked.get(id)
  const diff: SurveyDiff = { added: [], removed: [], changed: [] }
  const take = (part: SurveyChange) => {
    const came = survey.apply(part)
    diff.added.push(...came.added)
    diff.removed.push(...came.removed)
    diff.changed.push(...came.changed)
  }
  // A link and the slugs that forward to it stay together.
  const rows = [...(change.links ?? [])].sort((a, b) => (a.forwardsTo ?? a.id) - (b.forwardsTo ?? b.id))
  for (let from = 0; from < rows.length;) {
    let to = Math.min(rows.length, from + BEHIND_A_STEP)
    const leader = (index: number) => rows[index]!.forwardsTo ?? rows[index]!.id
    while (to < rows.length && leader(to) === leader(to - 1)) to++
    take({ links: rows.slice(from, to).filter((_, index) => still(leader(from + index))) })
    from = to
    await yieldNow()
  }
  take({ dropLinks: change.dropLinks?.filter(still) })
  return diff
}

/**
 * Of some links, those that can be part of a circle: they lead to hosts of ours, or did when the survey took them in
 * last. They may be very many.
 */
export async function onOurs(
  db: Database,
  survey: Survey,
  links: Iterable<number>,
  transaction?: Transaction,
): Promise<number[]> {
  const asked = [...links]
  if (asked.length === 0) return []
  const hosts = [...survey.state.table.hosts.keys()].map((host) => host.replace(/[^a-z0-9]/g, '\\$&'))
  const ours = `(?i)^https?://(${hosts.join('|')})\\.?([:/?#]|$)`
  const rows = await select(
    db,
    'SELECT id FROM link WHERE id IN (?) AND (destination REGEXP ? OR ended_destination REGEXP ?)',
    [asked, ours, ours],
    transaction,
  )
  const did = asked.filter((id) => {
    const link = survey.state.links.get(id)
    return link && [link.destination, link.endedDestination].some((to) => to !== null && survey.state.isOurs(to))
  })
  return [...new Set([...rows.map(({ id }) => Number(id)), ...did])]
}

/**
 * Takes in what a survey is behind with of the links that an address passes, so that what it leads to is told as the
 * database has it. Rows that the change itself has written are not committed: they are never taken in, neither its own
 * links nor the slugs that forward to them.
 */
export async function refreshStaleOnWay(
  db: Database,
  survey: Survey,
  links: readonly SurveyLink[],
  written: ReadonlySet<number>,
  transaction?: Transaction,
): Promise<void> {
  const isOwn = (id: number) => written.has(id) || written.has(survey.state.links.get(id)?.forwardsTo ?? 0)
  for (const { destination } of links)
    for (;;) {
      if (survey.behind.size === 0) return
      const passed = survey.state.passedFrom(destination)
      const late = passed.filter((id) => survey.behind.has(id) && !isOwn(id))
      if (late.length === 0) break
      await refreshStale(db, survey, () => undefined, late, transaction)
    }
}

/**
 * A survey of today's register that has not been scanned yet, made from one of before: of all its links only those that
 * changed, and the addresses of domains that read them otherwise now, are asked of the database.
 */
export async function renewSurvey(
  db: Database,
  known: Survey,
  transaction?: Transaction,
  yieldNow = yielder(),
): Promise<Survey> {
  const since = await changedSince(db, known, transaction)
  if (!since) return readSurvey(db, transaction, yieldNow)
  const survey = new Survey()
  survey.revision = since.revision
  const reread = (since.change.domains ?? []).filter((domain) => {
    const before = known.state.domains.get(domain.id)
    return before && readsOtherwise(before, domain)
  })
  const canonicals = new Map<number, string | null>()
  for (const { id } of reread) {
    for (let after = 0; ;) {
      const rows = await select(
        db,
        `SELECT id, canonical FROM link WHERE domain_id = ? AND id > ? ORDER BY id LIMIT ${PAGE}`,
        [id, after],
        transaction,
      )
      if (rows.length === 0) break
      after = Number(rows.at(-1)!.id)
      for (const row of rows) canonicals.set(Number(row.id), row.canonical as string | null)
      await yieldNow()
    }
  }
  const domains = new Map(known.state.domains)
  for (const domain of since.change.domains ?? []) domains.set(domain.id, domain)
  for (const id of since.change.dropDomains ?? []) domains.delete(id)
  survey.load(domains.values(), [], [], Date.now())
  for (const id of [...known.behind.keys(), ...since.behind]) survey.behind.set(id, since.revision)
  for (const link of [...known.state.links.values()]) {
    const canonical = canonicals.get(link.id)
    survey.add([canonical === undefined || canonical === link.canonical ? link : { ...link, canonical }])
    await yieldNow()
  }
  survey.load([], [], known.state.rules.values(), Date.now())
  // How pairs of patterns stand to each other depends on the patterns alone.
  for (const [pair, comparison] of known.state.comparisons) survey.state.comparisons.set(pair, comparison)
  survey.state.putRows(since.change)
  return survey
}

/** Rows as they are now, and which are gone. */
export async function readChanged(
  db: Database,
  ids: { links: number[]; domains: number[]; rules: number[] },
  transaction?: Transaction,
): Promise<SurveyChange> {
  const links: SurveyLink[] = []
  for (let from = 0; from < ids.links.length; from += 2000) {
    const some = ids.links.slice(from, from + 2000)
    const rows = await select(
      db,
      // Most links forward to none, by which the database thinks little of the index.
      `SELECT ${LINK_COLUMNS} FROM link WHERE id IN (?) UNION
       SELECT ${LINK_COLUMNS} FROM link FORCE INDEX (link_forwards) WHERE forwards_to IN (?)`,
      [some, some],
      transaction,
    )
    links.push(...rows.map(linkReader.fromColumns))
  }
  const there = new Set(links.map(({ id }) => id))
  const rules = ids.rules.length > 0 ? await db.Rule.findAll({ where: { id: ids.rules }, transaction }) : []
  const domains = ids.domains.length > 0 ? await db.Domain.findAll({ where: { id: ids.domains }, transaction }) : []
  const rulesThere = new Set(rules.map((rule) => rule.id))
  // A rule's place may have moved with another's change.
  const moved =
    ids.rules.length > 0 && rules.length > 0
      ? await db.Rule.findAll({
          where: { domainId: [...new Set(rules.map((rule) => rule.domainId))] },
          transaction,
        })
      : rules
  const domainsThere = new Set(domains.map(({ id }) => id))
  return {
    domains: domains.map(toSurveyDomain),
    dropDomains: ids.domains.filter((id) => !domainsThere.has(id)),
    links,
    dropLinks: ids.links.filter((id) => !there.has(id)),
    rules: moved.map(ruleReader.fromModel),
    dropRules: ids.rules.filter((id) => !rulesThere.has(id)),
  }
}
