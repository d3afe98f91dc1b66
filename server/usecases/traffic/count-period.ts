import { QueryTypes } from 'sequelize'
import type { Traffic, TrafficQuery, TrafficStep } from '../../../core/schemas'
import {
  HOURS,
  QUARTER_MS,
  Tally,
  VISIT_KINDS,
  type Calendar,
  type DayView,
  type Selection,
  type Step,
  type SumRows,
  type Sums,
} from '../../../core/visits'
import { filtersOf, groupingOf, readDomainIds, type Keyed, type LinkFacts } from './groupings'
import { answeredBy, planOf, type Answering, type Plan } from './query-plan'
import type { Groups } from './traffic-rows'
import type { Counting } from './second-thread'
import type { Holdings, VisitStore } from './visit-store'

/** A question that nobody waits for any more. */
export class Cancelled extends Error {}

interface Ask {
  facts: LinkFacts
  calendar: Calendar
  from: number
  to: number
  step: Step
  now: number
  cancelled?(): boolean
}
export interface Counted {
  view: Pick<Traffic, 'from' | 'to' | 'total' | 'people' | 'series'>
  repeats: number | null
  groups: Groups | undefined
  since: number | undefined
}

/** Counts the visits of one period. */
export async function countPeriod(store: VisitStore, query: TrafficQuery, ask: Ask): Promise<Counted> {
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
  await countVisits(store, holdings, plan, ask, tally, {
    zone: calendar.zone,
    selection,
    grouping: keyed?.grouping,
    starts,
    days: plan.visitDays,
  })
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
    groups: keyed && {
      visits: tally.groupVisits(),
      people: plan.exact ? tally.groupPeople() : undefined,
      keyOf: keyed.keyOf,
      distinct: keyed.grouping.by === 'words' && facts.heirs.size === 0,
    },
    since: plan.unknownUntil === undefined ? undefined : calendar.startOfDay(plan.unknownUntil + 1),
  }
}

/** Counts what a plan has counted visit by visit; of very many, some days by a second thread meanwhile. */
async function countVisits(
  store: VisitStore,
  holdings: Holdings,
  plan: Plan,
  ask: Ask,
  tally: Tally,
  counting: Counting,
): Promise<void> {
  const views: { name: string; view: DayView }[] = []
  for (const day of plan.utcDays) views.push(await store.view(day, holdings.parts.get(day)!))
  const many = views.reduce((sum, { view }) => sum + view.length, 0) > store.few
  const theirs = many && store.second ? views.filter((_, at) => at % 2 === 1) : []
  const told = theirs.length > 0 ? store.second!.count(theirs, counting) : undefined
  // A rejection that comes while this thread still counts is met below.
  told?.catch(() => undefined)
  for (const one of views) {
    if (theirs.includes(one)) continue
    tally.add(one.view, (at) => plan.visitDays.has(ask.calendar.dayAt(at)))
    await pause(ask)
  }
  if (told) tally.take(await told)
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
  if (byDomain)
    for (let row = 0; row < rows.codes.length; row++)
      if (rows.kinds[row] === kind && rows.domains[row] !== 0 && (domain === undefined || rows.domains[row] === domain))
        if (answering.summed === 'all' || dimensionAllows(rows.codes[row]!))
          addDomain(tally, keyed!, rows.domains[row]!, rows.visits[row]!, rows.people[row]!)
  const [first, end] = rangeOf(rows, wanted, kind)
  const anyCode = answering.summed === 'all' || (!filter && !selection.hours)
  for (let row = first; row < end; row++) {
    const code = rows.codes[row]!
    if (!anyCode && !dimensionAllows(code)) continue
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

/** Rows of one domain and kind lie together: from the first to before the second. */
function rangeOf({ domains, kinds }: SumRows, domain: number, kind: number): [number, number] {
  const firstFrom = (key: number) => {
    let [low, high] = [0, domains.length]
    while (low < high) {
      const middle = (low + high) >> 1
      if (domains[middle]! * 256 + kinds[middle]! < key) low = middle + 1
      else high = middle
    }
    return low
  }
  return [firstFrom(domain * 256 + kind), firstFrom(domain * 256 + kind + 1)]
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
