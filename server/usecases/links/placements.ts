import type { Placement, PlacementCreate } from '../../../core/schemas'
import type { Database } from '../../database/open'
import type { PlacementModel } from '../../database/models/placement'
import { change, type Actor } from '../ledger/change'
import { findLink } from './find-link'
import { notHere } from '../problem'

export const tellPlacement = (row: PlacementModel): Placement => ({
  id: row.id,
  medium: row.medium,
  place: row.place,
  placedOn: row.placedOn,
  copies: row.copies === null ? null : Number(row.copies),
  changeable: Boolean(row.changeable),
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
  ).map(tellPlacement)

/** Notes where a link was put. */
export function addPlacement(db: Database, actor: Actor, linkId: number, given: PlacementCreate): Promise<Placement> {
  return change(db, actor, async (under) => {
    const { link, domain } = await findLink(db, linkId, under.transaction)
    const row = await db.Placement.create(
      { ...given, linkId, createdAt: under.now },
      { transaction: under.transaction },
    )
    await under.record({
      action: 'place',
      subject: { kind: 'link', id: linkId, label: `${domain.host}/${link.slug}` },
      before: { placement: null },
      after: { placement: sentenceOf(row) },
    })
    return tellPlacement(row)
  })
}

/** Takes a note of a placement back, as when a poster was taken down. */
export function removePlacement(db: Database, actor: Actor, linkId: number, number: number): Promise<void> {
  return change(db, actor, async (under) => {
    const { link, domain } = await findLink(db, linkId, under.transaction)
    const row = await db.Placement.findOne({ where: { id: number, linkId }, transaction: under.transaction })
    if (!row) throw notHere('placement')
    await under.record({
      action: 'unplace',
      subject: { kind: 'link', id: linkId, label: `${domain.host}/${link.slug}` },
      before: { placement: sentenceOf(row) },
      after: { placement: null },
    })
    await row.destroy({ transaction: under.transaction })
  })
}

const sentenceOf = (row: PlacementModel): string =>
  [row.medium, row.place, row.copies && `${row.copies} copies`, row.placedOn].filter(Boolean).join(', ')
