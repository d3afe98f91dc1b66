import { QueryTypes } from 'sequelize'
import { showHost } from '../../../core/address'
import type { Traffic, TrafficQuery, TrafficRow, TrafficStep } from '../../../core/schemas'
import {
  calendarOf,
  HOURS,
  QUARTER_MS,
  Tally,
  VISIT_KINDS,
  type Calendar,
  type Selection,
  type Step,
  type Sums,
} from '../../../core/visits'
import type { Database } from '../../database/open'
import { fieldProblem } from '../problem'
import { filtersOf, groupingOf, readDomainIds, readFacts, type Keyed, type LinkFacts } from './groupings'
import { answeredBy, planOf, type Answering, type Plan } from './query-plan'
import { zoneOf } from './roll-visits'
import type { Holdings, VisitStore } from './visit-store'

const DAY_MS = 86_400_000
const HOUR_MS = 3_600_000
/** So many steps a series has at most. */
const MOST_STEPS = 2200

export interface AnswerOptions {
  now?: number
  /** Asked now and then; true ends the work. */
  cancelled?(): boolean
}

/** A question that nobody waits for any more. */
export class Cancelled extends Error {}

/**
 * Answers how many visits there were, by whom, when and by what (semantics §8): the sums of months and days where these
 * answer it exactly, the visits one by one where they are still kept, and says from when on it is complete.
 */
export async function answerTraffic(
  store: VisitStore,
  query: TrafficQuery,
  options: AnswerOptions = {},
): Promise<Traffic> {
  const now = options.now ?? Date.now()
  const zone = await zoneOf(store.db)
  const calendar = calendarOf(zone)
  const from = Math.floor(Date.parse(query.from) / QUARTER_MS) * QUARTER_MS
  const to = Math.ceil(Date.parse(query.to) / QUARTER_MS) * QUARTER_MS
  if (from >= to) throw fieldProblem('to', 'The end must lie after the begin.')
  const step = query.step ?? usualStep(to - from)
  refuseTooMany(step, from, to)
  const facts = await readFacts(store.db, query)
  const period = (begin: number, end: number) =>
    count(store, query, { facts, calendar, from: begin, to: end, step, now, cancelled: options.cancelled })
  const told = await period(from, to)
  const compared = query.compare === 'none' ? undefined : await period(...earlier(calendar, from, to, query.compare))
  const few = await fewestPeople(store.db, query)
  const rows = toRows(told.groups, compared?.groups, query, few)
  return {
    ...told.view,
    step,
    zone,
    repeats: told.repeats,
    compared: compared?.view ?? null,
    rows: await withLabels(store, query, rows.slice(0, query.limit)),
    groups: rows.length,
    complete: told.since === undefined,
    since: told.since === undefined ? null : new Date(told.since).toISOString(),
  }
}

/** How wide the steps of a period are where nobody says. */
export function usualStep(length: number): Step {
  if (length <= 6 * HOUR_MS) return 'quarter'
  if (length <= 3 * DAY_MS) return 'hour'
  if (length <= 124 * DAY_MS) return 'day'
  return length <= 800 * DAY_MS ? 'week' : 'month'
}

const STEP_MS: Record<Step, number> = {
  quarter: QUARTER_MS,
  hour: HOUR_MS,
  day: DAY_MS,
  week: 7 * DAY_MS,
  month: 28 * DAY_MS,
}

function refuseTooMany(step: Step, from: number, to: number): void {
  const steps = Math.ceil((to - from) / STEP_MS[step])
  if (steps > MOST_STEPS)
    throw fieldProblem(
      'step',
      `This period has ${steps.toLocaleString('en')} steps; at most ${MOST_STEPS.toLocaleString('en')} are told. ` +
        'Choose wider steps or a shorter period.',
    )
}

/** The period one is compared with: just before, or a year before, so that weekdays stand beside their like. */
function earlier(calendar: Calendar, from: number, to: number, how: 'before' | 'year'): [number, number] {
  const days = how === 'year' ? 364 : Math.max(1, Math.ceil((to - from) / (7 * DAY_MS))) * 7
  const back = (at: number) => {
    const day = calendar.dayAt(at)
    return calendar.startOfDay(day - days) + (at - calendar.startOfDay(day))
  }
  return [back(from), back(to)]
}

interface Ask {
  facts: LinkFacts
  calendar: Calendar
  from: number
  to: number
  step: Step
  now: number
  cancelled?(): boolean
}
interface Counted {
  view: Pick<Traffic, 'from' | 'to' | 'total' | 'people' | 'series'>
  repeats: number | null
  groups: Map<string, { visits: number; people: number | null }>
  since: number | undefined
}

async function count(store: VisitStore, query: TrafficQuery, ask: Ask): Promise<Counted> {
  const { calendar, facts, from, to, step, now } = ask
  const holdings = await store.holdings(calendar.zone, calendar.dayAt(from), calendar.dayAt(to - 1))
  const answering = facts.heirs.size > 0 && query.link !== undefined ? undefined : answeredBy(query)
  const plan = planOf(holdings, { from, to, step }, answering)
  const read = await readAll(store, holdings, plan, ask)

  // Only now are all words known by which it is filtered and grouped.
  const { vocabulary } = store
  const domains = await readDomainIds(store.db)
  const own = new Set(domains.keys())
  const keyed = query.by && groupingOf(query.by, vocabulary, facts, own)
  const selection: Selection = {
    from,
    to,
    kind: VISIT_KINDS.indexOf(query.kind),
    filters: filtersOf(query, vocabulary, facts, domains, own),
    hours: query.hour && Uint8Array.from({ length: HOURS }, (_, hour) => (query.hour!.includes(hour) ? 1 : 0)),
  }
  const starts = calendar.steps(step, from, to)
  const tally = new Tally(calendar, selection, keyed?.grouping, starts)
  const domain = query.domain && (domains.get(query.domain[0]!) ?? -1)
  for (const { day, sums } of read.sums)
    addSummed(tally, sums, {
      at: calendar.startOfDay(day),
      answering: answering!,
      query,
      selection,
      keyed,
      domain,
      domains,
    })
  for (const day of plan.utcDays) {
    tally.add(await store.view(day, holdings.parts.get(day)!), (at) => plan.visitDays.has(calendar.dayAt(at)))
    await pause(ask)
  }
  const hasSums = plan.days.length + plan.months.length > 0
  const presence = await readPresence(store, from, Math.min(to, now))
  const people = plan.exact ? tally.people : null
  return {
    view: {
      from: new Date(from).toISOString(),
      to: new Date(to).toISOString(),
      total: tally.visits,
      people,
      series: starts.map((at, index) => {
        const end = starts[index + 1] ?? to
        const visits = tally.stepVisits[index]!
        const isGap = visits === 0 && presence.isGap(at, Math.min(end, now))
        return {
          at: new Date(Math.max(at, from)).toISOString(),
          visits: isGap ? null : visits,
          people: isGap || !plan.exact ? null : tally.stepPeople[index]!,
          unfinished: at <= now && end > now,
        } satisfies TrafficStep
      }),
    },
    repeats: selection.filters.some(({ dimension }) => dimension !== 'domain') && hasSums ? null : tally.repeats,
    groups: groupsOf(tally, keyed, plan.exact),
    since: plan.unknownUntil === undefined ? undefined : calendar.startOfDay(plan.unknownUntil + 1),
  }
}

/** Reads what a plan names, so that all its words are known. */
async function readAll(
  store: VisitStore,
  holdings: Holdings,
  plan: Plan,
  ask: Ask,
): Promise<{ sums: { day: number; sums: Sums }[] }> {
  const sums: { day: number; sums: Sums }[] = []
  for (const month of plan.months) {
    const marks = Array.from({ length: 31 }, (_, at) => holdings.days.get(month + at)).map(
      (day) => day && Object.values(day),
    )
    const read = await store.sumsOfMonth(month, marks.join())
    if (read) sums.push({ day: month, sums: read })
    await pause(ask)
  }
  for (const day of plan.days) {
    const read = await store.sumsOfDay(day, holdings.days.get(day)!)
    if (read) sums.push({ day, sums: read })
    await pause(ask)
  }
  for (const day of plan.utcDays) {
    await store.view(day, holdings.parts.get(day)!)
    await pause(ask)
  }
  return { sums }
}

async function pause({ cancelled }: Ask): Promise<void> {
  if (cancelled?.()) throw new Cancelled('nobody waits for it any more')
  await new Promise((resolve) => setImmediate(resolve))
  if (cancelled?.()) throw new Cancelled('nobody waits for it any more')
}

interface Summing {
  at: number
  answering: Answering
  query: TrafficQuery
  selection: Selection
  keyed: Keyed | undefined
  /** The one domain asked for. */
  domain: number | undefined
  domains: ReadonlyMap<string, number>
}

/** Adds the sums of a day or month, of which only those of one thing matter. */
function addSummed(tally: Tally, sums: Sums, { at, answering, query, selection, keyed, domain }: Summing): void {
  const rows = sums[answering.summed]
  const { kind } = selection
  const byDomain = query.by === 'domain' && answering.summed !== 'domain'
  const filter = selection.filters.find(({ dimension }) => dimension !== 'domain')
  const dimensionAllows = (code: number) =>
    answering.summed === 'hour' ? !selection.hours || selection.hours[code] : !filter || filter.allowed[code]
  const wanted = domain ?? 0
  let [visits, people] = [0, 0]
  for (let row = 0; row < rows.codes.length; row++) {
    if (rows.kinds[row] !== kind) continue
    const code = rows.codes[row]!
    if (answering.summed !== 'all' && !dimensionAllows(code)) continue
    if (byDomain && rows.domains[row] !== 0 && (domain === undefined || rows.domains[row] === domain))
      addDomain(tally, keyed!, rows.domains[row]!, rows.visits[row]!, rows.people[row]!)
    if (rows.domains[row] !== wanted) continue
    visits += rows.visits[row]!
    people += rows.people[row]!
    if (keyed && !byDomain) addToGroups(tally, keyed, code, rows.visits[row]!, rows.people[row]!)
  }
  // Of all visits together there is a sum of its own: people who visited several things are not told by these.
  const isOne = answering.summed === 'all' || filter !== undefined || selection.hours !== undefined
  if (isOne) {
    tally.addTotal(at, visits, people, answering.summed === 'all' ? repeatsIn(sums, kind, wanted) : 0)
    return
  }
  const all = sums.all
  for (let row = 0; row < all.codes.length; row++)
    if (all.kinds[row] === kind && all.domains[row] === wanted)
      tally.addTotal(at, all.visits[row]!, all.people[row]!, repeatsIn(sums, kind, wanted))
}

function repeatsIn({ repeats }: Sums, kind: number, domain: number): number {
  let sum = 0
  for (let row = 0; row < repeats.codes.length; row++)
    if (repeats.kinds[row] === kind && repeats.domains[row] === domain) sum += repeats.visits[row]!
  return sum
}

function addDomain(tally: Tally, keyed: Keyed, id: number, visits: number, people: number): void {
  const { grouping } = keyed
  if (grouping.by !== 'words') return
  for (let group = 0; group < grouping.size; group++)
    if (keyed.keyOf(group) === String(id)) tally.addGroup(group, visits, people)
}

function addToGroups(tally: Tally, { grouping }: Keyed, code: number, visits: number, people: number): void {
  if (grouping.by === 'hours' || grouping.by === 'words') tally.addGroup(code, visits, people)
  else if (grouping.by === 'groups') {
    if (grouping.groupOf[code] !== -1) tally.addGroup(grouping.groupOf[code]!, visits, people)
  } else
    for (let place = grouping.starts[code]!; place < grouping.starts[code + 1]!; place++)
      tally.addGroup(grouping.groups[place]!, visits, people)
}

function groupsOf(tally: Tally, keyed: Keyed | undefined, exact: boolean): Counted['groups'] {
  const groups: Counted['groups'] = new Map()
  if (!keyed) return groups
  for (let group = 0; group < tally.groupVisits.length; group++) {
    const visits = tally.groupVisits[group]!
    if (visits === 0) continue
    const key = keyed.keyOf(group)
    const there = groups.get(key)
    const people = exact ? tally.groupPeople[group]! : null
    groups.set(key, {
      visits: visits + (there?.visits ?? 0),
      people: people === null ? null : people + (there?.people ?? 0),
    })
  }
  return groups
}

type Bare = Omit<TrafficRow, 'label' | 'title'>

/** Rows of countries, and rows within one, tell of so many people at least; 0 where nothing is hidden. */
async function fewestPeople(db: Database, query: TrafficQuery): Promise<number> {
  if (query.by !== 'country' && query.country === undefined) return 0
  const organisation = await db.Organisation.findByPk(1, { attributes: ['fewPeople'] })
  return organisation?.fewPeople ?? 5
}

/** What stands for all rows of too few people together. */
export const FEW = '(few)'

function toRows(
  groups: Counted['groups'],
  before: Counted['groups'] | undefined,
  query: TrafficQuery,
  few: number,
): Bare[] {
  const keys = new Set([...groups.keys(), ...(before?.keys() ?? [])])
  const rows = [...keys].map((key): Bare => {
    const { visits, people } = groups.get(key) ?? { visits: 0, people: 0 }
    const was = before === undefined ? null : (before.get(key)?.visits ?? 0)
    return { key, visits, people, before: was, change: was === null || was === 0 ? null : (visits - was) / was }
  })
  const shown = few > 1 ? withoutFew(rows, few) : rows
  const inOrder = (a: Bare, b: Bare) => (a.key < b.key ? -1 : 1)
  const by = {
    visits: (row: Bare) => row.visits,
    people: (row: Bare) => row.people ?? row.visits,
    change: (row: Bare) => Math.abs(row.visits - (row.before ?? 0)),
  }[query.sort]
  return shown.sort((a, b) => by(b) - by(a) || inOrder(a, b))
}

/** Rows of fewer people than told are put together, so that nobody is made out (k-anonymity, Sweeney 2002). */
function withoutFew(rows: Bare[], few: number): Bare[] {
  const isFew = (row: Bare) => row.key !== '' && (row.people ?? row.visits) < few
  const hidden = rows.filter(isFew)
  if (hidden.length === 0) return rows
  const sum = (read: (row: Bare) => number | null) => hidden.reduce((total, row) => total + (read(row) ?? 0), 0)
  const [visits, was] = [sum((row) => row.visits), rows[0]!.before === null ? null : sum((row) => row.before)]
  return [
    ...rows.filter((row) => !isFew(row)),
    {
      key: FEW,
      visits,
      people: rows[0]!.people === null ? null : sum((row) => row.people),
      before: was,
      change: was === null || was === 0 ? null : (visits - was) / was,
    },
  ]
}

/** Names rows as people know them. */
async function withLabels(store: VisitStore, query: TrafficQuery, rows: Bare[]): Promise<TrafficRow[]> {
  const { db } = store
  if (query.by === 'domain') {
    const hosts = new Map([...(await readDomainIds(db))].map(([host, id]) => [String(id), host]))
    return rows.map((row) => ({
      ...row,
      key: hosts.get(row.key) ?? row.key,
      label: hosts.get(row.key) ?? '',
      title: '',
    }))
  }
  if (query.by !== 'link') return rows.map((row) => ({ ...row, label: row.key, title: '' }))
  const ids = rows.map(({ key }) => Number(key)).filter(Number.isSafeInteger)
  const links =
    ids.length === 0
      ? []
      : await db.sequelize.query<{ id: number; host: string; slug: string; title: string }>(
          'SELECT l.id, d.host, l.slug, l.title FROM link l JOIN domain d ON d.id = l.domain_id WHERE l.id IN (?)',
          { replacements: [ids], type: QueryTypes.SELECT },
        )
  const byId = new Map(links.map((link) => [String(link.id), link]))
  return rows.map((row) => {
    const link = byId.get(row.key)
    if (link) return { ...row, label: `${showHost(link.host)}/${link.slug}`, title: link.title }
    return { ...row, label: row.key === '0' ? '' : `link ${row.key}`, title: '' }
  })
}

/** Tells whether anybody was there to count in a stretch of time. */
async function readPresence(
  { db }: VisitStore,
  from: number,
  to: number,
): Promise<{ isGap(from: number, to: number): boolean }> {
  const [first] = await db.sequelize.query<{ first: number | null }>('SELECT MIN(quarter) AS first FROM presence', {
    type: QueryTypes.SELECT,
  })
  if (first?.first === null || first === undefined) return { isGap: () => false }
  const since = Number(first.first)
  const rows = await db.sequelize.query<{ quarter: number }>(
    'SELECT quarter FROM presence WHERE quarter >= ? AND quarter < ? ORDER BY quarter',
    { replacements: [Math.floor(from / QUARTER_MS), Math.ceil(to / QUARTER_MS)], type: QueryTypes.SELECT },
  )
  const quarters = Uint32Array.from(rows, ({ quarter }) => Number(quarter))
  const after = (quarter: number) => {
    let [low, high] = [0, quarters.length]
    while (low < high) {
      const middle = (low + high) >> 1
      if (quarters[middle]! < quarter) low = middle + 1
      else high = middle
    }
    return low
  }
  return {
    isGap(begin, end) {
      const [one, other] = [Math.floor(begin / QUARTER_MS), Math.ceil(end / QUARTER_MS)]
      return one >= since && other > one && after(one) === after(other)
    },
  }
}
