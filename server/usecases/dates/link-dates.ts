import type { LinkDate, LinkDateCreate } from '../../../core/schemas'
import { LINK_DATE_KINDS } from '../../../core/schemas'
import type { Database } from '../../database/open'
import type { LinkDateModel } from '../../database/models/link-date'
import { runChange, type Actor } from '../ledger/change'
import { findLink } from '../links/find-link'
import { notFound, Problem } from '../problem'

/** So many open days a link can have. */
const MAX_DATES = 50

const toView = (row: LinkDateModel): LinkDate => ({
  id: row.id,
  kind: row.kind,
  day: row.day,
  note: row.note ?? '',
  remindDays: row.remindDays ?? 0,
  madeBy: row.madeBy,
})

/** The days noted for a link that are not ticked off, the next one first. */
export const listLinkDates = async (db: Database, linkId: number): Promise<{ items: LinkDate[] }> => ({
  items: (
    await db.LinkDate.findAll({
      where: { linkId, doneAt: null },
      order: [
        ['day', 'ASC'],
        ['id', 'ASC'],
      ],
    })
  ).map(toView),
})

const sentenceOf = (row: Pick<LinkDateModel, 'kind' | 'day' | 'note'>): string =>
  [row.day, LINK_DATE_KINDS[row.kind].toLowerCase(), row.note].filter(Boolean).join(', ')

/** Notes a day on which somebody should look at a link. */
export function addLinkDate(db: Database, actor: Actor, linkId: number, input: LinkDateCreate): Promise<LinkDate> {
  return runChange(db, actor, async (change) => {
    const { transaction } = change
    const { link, domain } = await findLink(db, linkId, transaction)
    if ((await db.LinkDate.count({ where: { linkId, doneAt: null }, transaction })) >= MAX_DATES)
      throw new Problem(409, 'Too many days', `A link can have at most ${MAX_DATES} days; tick some off first.`)
    const row = await db.LinkDate.create(
      { ...input, linkId, madeBy: actor.name.slice(0, 160), madeAt: change.now },
      { transaction },
    )
    await change.record({
      action: 'date-add',
      subject: { kind: 'link', id: linkId, label: `${domain.host}/${link.slug}` },
      before: { date: null },
      after: { date: sentenceOf(row) },
    })
    return toView(row)
  })
}

/** Ticks a day off: whoever looked at the link, or needs to no more. */
export function tickOffLinkDate(db: Database, actor: Actor, linkId: number, number: number): Promise<void> {
  return runChange(db, actor, async (change) => {
    const { transaction } = change
    const { link, domain } = await findLink(db, linkId, transaction)
    const row = await db.LinkDate.findOne({ where: { id: number, linkId, doneAt: null }, transaction })
    if (!row) throw notFound('day')
    await change.record({
      action: 'date-done',
      subject: { kind: 'link', id: linkId, label: `${domain.host}/${link.slug}` },
      before: { date: sentenceOf(row) },
      after: { date: null },
    })
    await row.update({ doneAt: change.now }, { transaction })
  })
}
