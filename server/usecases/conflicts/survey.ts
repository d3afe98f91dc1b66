import { QueryTypes, type Transaction } from 'sequelize'
import {
  Survey,
  type SurveyChange,
  type SurveyDiff,
  type SurveyDomain,
  type SurveyLink,
  type SurveyRule,
} from '../../../core/conflicts'
import { isOpenStanding } from '../../../core/schemas'
import { OPEN_RULES, type SlugRules } from '../../../core/slugs'
import type { Database } from '../../database/open'
import type { DomainModel } from '../../database/models/domain'
import type { LinkModel } from '../../database/models/link'
import type { RuleModel } from '../../database/models/rule'
import { breather } from '../yield-to-event-loop'

const PAGE = 10_000
const LINK_COLUMNS =
  'id, domain_id, slug, canonical, forwards_to, exception, destination, status, query, query_conflict, standing, starts_at, ends_at, resumes_at, ended_destination, robots, referrer_policy, visits_28'

type Raw = Record<string, unknown>
const moment = (value: unknown) => (value === null || value === undefined ? null : (value as Date).getTime())

/** A domain's slug rules with what it never decided filled in. */
export const slugRulesOf = (domain: DomainModel): SlugRules => ({ ...OPEN_RULES, ...domain.slugRules })

export const surveyDomain = (domain: DomainModel): SurveyDomain => ({
  id: Number(domain.id),
  host: domain.host,
  open: isOpenStanding(domain.standing),
  capitalsMatter: domain.capitalsMatter,
  trailingSlashMatters: domain.trailingSlashMatters,
  permanenceSeconds: domain.permanenceSeconds,
  rootDestination: domain.rootDestination,
  notFoundDestination: domain.notFoundDestination,
  endedDestination: domain.endedDestination,
  forgiveness: {
    punctuation: domain.mendPunctuation,
    capitals: domain.mendCapitals,
    lookAlikes: domain.mendLookAlikes,
  },
  slugRules: slugRulesOf(domain),
})

function surveyRow(raw: Raw): SurveyLink {
  return {
    id: Number(raw.id),
    domainId: Number(raw.domain_id),
    slug: raw.slug as string,
    canonical: raw.canonical as string | null,
    forwardsTo: raw.forwards_to === null ? null : Number(raw.forwards_to),
    exception: Boolean(raw.exception),
    destination: raw.destination as string,
    status: Number(raw.status) as SurveyLink['status'],
    query: raw.query as SurveyLink['query'],
    queryConflict: raw.query_conflict as SurveyLink['queryConflict'],
    standing: raw.standing as SurveyLink['standing'],
    startsAt: moment(raw.starts_at),
    endsAt: moment(raw.ends_at),
    resumesAt: moment(raw.resumes_at),
    endedDestination: raw.ended_destination as string | null,
    robots: raw.robots as string | null,
    referrerPolicy: raw.referrer_policy as string | null,
    visits28: Number(raw.visits_28),
  }
}

export const surveyLink = (link: LinkModel): SurveyLink => ({
  id: Number(link.id),
  domainId: Number(link.domainId),
  slug: link.slug,
  canonical: link.canonical,
  forwardsTo: link.forwardsTo === null || link.forwardsTo === undefined ? null : Number(link.forwardsTo),
  exception: Boolean(link.exception),
  destination: link.destination,
  status: link.status,
  query: link.query,
  queryConflict: link.queryConflict,
  standing: link.standing,
  startsAt: moment(link.startsAt),
  endsAt: moment(link.endsAt),
  resumesAt: moment(link.resumesAt),
  endedDestination: link.endedDestination,
  robots: link.robots,
  referrerPolicy: link.referrerPolicy,
  visits28: link.visits28 ?? 0,
})

export const surveyRule = (rule: RuleModel): SurveyRule => ({
  id: Number(rule.id),
  domainId: Number(rule.domainId),
  position: rule.position,
  syntax: rule.syntax,
  pattern: rule.pattern,
  destination: rule.destination,
  status: rule.status,
  query: rule.query,
  queryConflict: rule.queryConflict,
  queryMode: rule.queryMode,
  queryText: rule.queryText,
  except: rule.exceptSlugs,
  active: rule.active,
  visits28: rule.visits28 ?? 0,
})

async function select(db: Database, sql: string, replacements: unknown[], transaction?: Transaction): Promise<Raw[]> {
  return db.sequelize.query<Raw>(sql, { replacements, type: QueryTypes.SELECT, transaction })
}

async function readRevision(db: Database, transaction?: Transaction): Promise<number> {
  const [row] = await select(db, 'SELECT revision FROM organisation WHERE id = 1', [], transaction)
  return Number(row?.revision ?? 0)
}

/** Reads the whole register into a survey that has not been scanned yet. */
export async function readSurvey(db: Database, transaction?: Transaction): Promise<Survey> {
  const survey = new Survey()
  // First the revision: what changes while rows are read is read again afterwards.
  survey.revision = await readRevision(db, transaction)
  const domains = await db.Domain.findAll({ transaction })
  survey.load(domains.map(surveyDomain), [], [], Date.now())
  for (let after = 0; ;) {
    const rows = await select(
      db,
      `SELECT ${LINK_COLUMNS} FROM link WHERE id > ? ORDER BY id LIMIT ${PAGE}`,
      [after],
      transaction,
    )
    if (rows.length === 0) break
    after = Number(rows.at(-1)!.id)
    survey.add(rows.map(surveyRow))
  }
  survey.load([], [], (await db.Rule.findAll({ transaction })).map(surveyRule), Date.now())
  return survey
}

const MOST_ENTRIES = 20_000
const NOTHING: SurveyDiff = { added: [], removed: [], changed: [] }

/**
 * Brings a survey up to the ledger's revision. Several may do so at once: rows that were read earlier than what it
 * holds already are let go. Gives what changed, or `undefined` where so much did that it must be read anew.
 */
export async function catchUp(
  db: Database,
  survey: Survey,
  transaction?: Transaction,
): Promise<SurveyDiff | undefined> {
  const from = survey.revision
  const entries = await select(
    db,
    `SELECT revision, subject_kind, subject_id FROM ledger_entry WHERE revision > ? AND subject_kind IN ('link', 'domain', 'rule') ORDER BY revision LIMIT ${MOST_ENTRIES}`,
    [from],
    transaction,
  )
  if (entries.length === MOST_ENTRIES) return undefined
  if (entries.length === 0) return survey.advance(Date.now())
  const ids = (kind: string) => [
    ...new Set(entries.filter((entry) => entry.subject_kind === kind).map((entry) => Number(entry.subject_id))),
  ]
  const change = await readChanged(db, { links: ids('link'), domains: ids('domain'), rules: ids('rule') }, transaction)
  // The watch of names notes what it sees in the ledger; most of that is nothing to us.
  change.domains = change.domains?.filter(
    (domain) => JSON.stringify(domain) !== JSON.stringify(survey.state.domains.get(domain.id)),
  )
  // A domain that reads its addresses otherwise gives each of its links another one, without an entry for each.
  const reread = change.domains!.filter((domain) => {
    const before = survey.state.domains.get(domain.id)
    return (
      before !== undefined &&
      (before.capitalsMatter !== domain.capitalsMatter || before.trailingSlashMatters !== domain.trailingSlashMatters)
    )
  })
  const links =
    reread.length > 0
      ? (
          await select(
            db,
            `SELECT ${LINK_COLUMNS} FROM link WHERE domain_id IN (?)`,
            [reread.map(({ id }) => id)],
            transaction,
          )
        ).map(surveyRow)
      : []
  if (links.length > 0)
    change.links = [...new Map([...change.links!, ...links].map((link) => [link.id, link])).values()]
  const revision = Number(entries.at(-1)!.revision)
  if (survey.revision >= revision) return NOTHING
  survey.revision = revision
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
      `SELECT ${LINK_COLUMNS} FROM link WHERE id IN (?) UNION SELECT ${LINK_COLUMNS} FROM link WHERE forwards_to IN (?)`,
      [some, some],
      transaction,
    )
    links.push(...rows.map(surveyRow))
  }
  const there = new Set(links.map(({ id }) => id))
  const rules = ids.rules.length > 0 ? await db.Rule.findAll({ where: { id: ids.rules }, transaction }) : []
  const domains = ids.domains.length > 0 ? await db.Domain.findAll({ where: { id: ids.domains }, transaction }) : []
  const rulesThere = new Set(rules.map((rule) => Number(rule.id)))
  // A rule's place may have moved with another's change.
  const moved =
    ids.rules.length > 0 && rules.length > 0
      ? await db.Rule.findAll({
          where: { domainId: [...new Set(rules.map((rule) => Number(rule.domainId)))] },
          transaction,
        })
      : rules
  return {
    domains: domains.map(surveyDomain),
    links,
    dropLinks: ids.links.filter((id) => !there.has(id)),
    rules: moved.map(surveyRule),
    dropRules: ids.rules.filter((id) => !rulesThere.has(id)),
  }
}

interface Holder {
  survey: Survey | undefined
  loading: Promise<Survey> | undefined
}
const holders = new WeakMap<Database, Holder>()

/**
 * The survey this process holds, at the ledger's newest revision. Under a change's transaction, which has the lock that
 * all changes take, it is exactly what the database holds but for the change's own rows.
 */
export async function currentSurvey(db: Database, transaction?: Transaction): Promise<Survey> {
  let holder = holders.get(db)
  if (!holder) holders.set(db, (holder = { survey: undefined, loading: undefined }))
  if (!holder.survey) {
    const load = async () => {
      const fresh = await readSurvey(db, transaction)
      const breathe = breather()
      for (const _step of fresh.scan()) await breathe()
      return (holder.survey ??= fresh)
    }
    // A change reads by its own connection: waiting for another's, while holding the lock, might wait for ever.
    if (transaction) await load()
    else await (holder.loading ??= load().finally(() => (holder.loading = undefined)))
  }
  const survey = holder.survey!
  if ((await catchUp(db, survey, transaction)) === undefined) {
    holder.survey = undefined
    return currentSurvey(db, transaction)
  }
  return survey
}
