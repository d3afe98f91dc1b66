import { markOf } from '../../../core/address'
import type { Placement, PlacementCreate } from '../../../core/schemas'
import type { Database } from '../../database/open'
import type { PlacementModel } from '../../database/models/placement'
import { runChange, type Actor } from '../ledger/change'
import { findLink } from './find-link'
import { notFound } from '../problem'

export const toPlacementView = (row: PlacementModel): Placement => ({
  id: row.id,
  medium: row.medium,
  place: row.place,
  placedOn: row.placedOn,
  copies: row.copies === null ? null : Number(row.copies),
  changeable: Boolean(row.changeable),
  mark: markOf(row.id),
})

/** Where a link was put, newest first. */
export const listPlacements = async (db: Database, linkId: number): Promise<Placement[]> =>
  (
    await db.Placement.findAll({
      where: { linkId },
      order: [
        ['placedOn', 'DESC'],
        ['id', 'DESC'],
      ],
    })
  ).map(toPlacementView)

/** Notes where a link was put. */
export function addPlacement(db: Database, actor: Actor, linkId: number, input: PlacementCreate): Promise<Placement> {
  return runChange(db, actor, async (change) => {
    const { link, domain } = await findLink(db, linkId, change.transaction)
    const row = await db.Placement.create(
      { ...input, linkId, createdAt: change.now },
      { transaction: change.transaction },
    )
    await change.record({
      action: 'place',
      subject: { kind: 'link', id: linkId, label: `${domain.host}/${link.slug}` },
      before: { placement: null },
      after: { placement: sentenceOf(row) },
    })
    return toPlacementView(row)
  })
}

/** Takes a note of a placement back, as when a poster was taken down. */
export function removePlacement(db: Database, actor: Actor, linkId: number, number: number): Promise<void> {
  return runChange(db, actor, async (change) => {
    const { link, domain } = await findLink(db, linkId, change.transaction)
    const row = await db.Placement.findOne({ where: { id: number, linkId }, transaction: change.transaction })
    if (!row) throw notFound('placement')
    await change.record({
      action: 'unplace',
      subject: { kind: 'link', id: linkId, label: `${domain.host}/${link.slug}` },
      before: { placement: sentenceOf(row) },
      after: { placement: null },
    })
    await row.destroy({ transaction: change.transaction })
  })
}

const sentenceOf = (row: PlacementModel): string =>
  [row.medium, row.place, row.copies && `${row.copies} copies`, row.placedOn].filter(Boolean).join(', ')
