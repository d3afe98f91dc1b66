import { QueryTypes } from 'sequelize'
import { tableOfStates } from '../../../core/ledger'
import { LINK_SELECT, readDomainRows, readRuleRows, toLinkRows, type LinkRow, type RuleRow } from '../../../core/rows'
import { compile, copyTable, patchTable, putLink, putRules, type Table, type TableAt } from '../../../core/table'
import type { Rewritten } from '../../../core/changes'
import { fromJson } from '../../database/json'
import type { Database } from '../../database/open'
import { pastStates } from '../ledger/past-states'
import { linksToMake, partsToChange, rulesToMake } from '../exchange/intake-changes'
import { putReading, type SlugReading } from './slug-reading'
import { queryOf } from '../../database/query'

/** Which two tables requests are put to. */
export type ReplayTables =
  | { by: 'proposal'; proposal: number; at: number }
  | { by: 'intake'; intake: number }
  | { by: 'rules'; domainId: number; rules: RuleRow[] }
  | ({ by: 'slugs'; domainId: number } & SlugReading)
  | { by: 'moments'; before: number; after: number | null }

const PAGE = 5000

/** The table as it is now. */
export async function tableNow(db: Database): Promise<Table> {
  const table = compile(await readDomainRows(queryOf(db)), [])
  for (let after = 0; ;) {
    const rows = await db.sequelize.query<Record<string, unknown>>(
      `${LINK_SELECT} WHERE l.id > ? ORDER BY l.id LIMIT ${PAGE}`,
      { replacements: [after], type: QueryTypes.SELECT },
    )
    if (rows.length === 0) break
    after = Number(rows.at(-1)!.id)
    for (const link of toLinkRows(rows)) putLink(table, link)
  }
  putRules(table, await readRuleRows(queryOf(db)))
  return table
}

/** The tables a replay compares, each at its moment. */
export async function tablesFor(db: Database, wish: ReplayTables): Promise<{ before: TableAt; after: TableAt }> {
  const now = Date.now()
  if (wish.by === 'moments') {
    const today = new Map((await readDomainRows(queryOf(db))).map((domain) => [domain.id, domain]))
    const past = async (at: number) => ({
      table: tableOfStates(await pastStates(db, new Date(at)), today),
      now: at,
    })
    return {
      before: await past(wish.before),
      after: wish.after === null ? { table: await tableNow(db), now } : await past(wish.after),
    }
  }
  const table = await tableNow(db)
  const next = copyTable(table)
  // At one and the same moment: only what the change does is to be told, not what the calendar does.
  const at = wish.by === 'proposal' ? wish.at : now
  if (wish.by === 'proposal') await putProposal(db, next, wish.proposal)
  else if (wish.by === 'intake') await putIntake(db, next, wish.intake)
  else if (wish.by === 'slugs') await putReading(db, next, wish)
  else {
    const others = (await readRuleRows(queryOf(db))).filter(({ domainId }) => domainId !== wish.domainId)
    patchTable(next, { rules: [...others, ...wish.rules] })
  }
  return { before: { table, now: at }, after: { table: next, now: at } }
}

const ms = (value: unknown) => (typeof value === 'string' ? Date.parse(value) : value)
const MOMENTS = ['startsAt', 'endsAt', 'resumesAt']

/** Puts what a proposal changes into a table: its links, and the slugs that forward to them. */
async function putProposal(db: Database, table: Table, id: number): Promise<void> {
  for (let after = 0; ;) {
    const parts = await db.sequelize.query<{ link_id: number; after_state: unknown }>(
      `SELECT link_id, after_state FROM proposal_row WHERE proposal_id = ? AND link_id > ? AND kind = 'change'
         AND NOT left_out ORDER BY link_id LIMIT ${PAGE}`,
      { replacements: [id, after], type: QueryTypes.SELECT },
    )
    if (parts.length === 0) return
    after = Number(parts.at(-1)!.link_id)
    await putChanges(
      db,
      table,
      new Map(parts.map((part) => [Number(part.link_id), fromJson<Rewritten>(part.after_state)])),
    )
  }
}

/** Puts what a file that was brought in would make and change into a table. */
async function putIntake(db: Database, table: Table, id: number): Promise<void> {
  const intake = (await db.Intake.findByPk(id))!
  let next = -1
  for await (const page of linksToMake(db, intake))
    for (const { state } of page) {
      const { tags: _tags, title: _title, note: _note, owner: _owner, exception: _exception, ...answers } = state
      const { startsAt, endsAt, resumesAt } = state
      putLink(table, {
        ...answers,
        id: next--,
        startsAt: ms(startsAt) as number | null,
        endsAt: ms(endsAt) as number | null,
        resumesAt: ms(resumesAt) as number | null,
      })
    }
  for await (const page of partsToChange(db, intake))
    await putChanges(db, table, new Map(page.map(({ linkId, after }) => [linkId, after])))
  const rules = (await rulesToMake(db, intake)).map(({ state: rule }, index): RuleRow => {
    const { title: _title, ...row } = rule
    return { ...row, status: row.status as RuleRow['status'], id: -1 - index, position: LAST_RULE + index }
  })
  if (rules.length > 0) patchTable(table, { rules: [...(await readRuleRows(queryOf(db))), ...rules] })
}

/** Behind all rules there are. */
const LAST_RULE = 1_000_000

/** Puts changes of links into a table, by their numbers: the links, and the slugs that forward to them. */
async function putChanges(db: Database, table: Table, changes: ReadonlyMap<number, Rewritten>): Promise<void> {
  const ids = [...changes.keys()]
  const rows = await db.sequelize.query<Record<string, unknown>>(
    `${LINK_SELECT} WHERE l.id IN (:ids) OR l.forwards_to IN (:ids)`,
    { replacements: { ids }, type: QueryTypes.SELECT },
  )
  for (const link of toLinkRows(rows)) {
    const change = changes.get(link.forwardsTo ?? link.id)
    if (!change) continue
    const { tags: _tags, ...fields } = change
    const values = Object.fromEntries(
      Object.entries(fields).map(([name, value]) => [name, MOMENTS.includes(name) ? ms(value) : value]),
    )
    const { domainId: _domainId, canonical: _canonical, ...answers } = values
    // Another slug of the link stays where it is; what a moved link was called so far becomes one.
    const moved = 'domainId' in values
    if (link.forwardsTo !== null || moved)
      putLink(table, { ...link, ...answers, forwardsTo: link.forwardsTo ?? link.id } as LinkRow)
    if (link.forwardsTo === null) putLink(table, { ...link, ...values } as LinkRow)
  }
}
