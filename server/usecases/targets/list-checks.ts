import type { TargetChecks } from '../../../core/schemas'
import type { Database } from '../../database/open'
import { findLink } from '../links/find-link'
import { toCheckView, toFrames, toTargetView } from './target-view'

const MAX_CHECKS = 60

/** The checks of a link’s destination, the newest first, with how it stands and when it is asked again. */
export async function listChecks(db: Database, linkId: number): Promise<TargetChecks> {
  const { link, domain } = await findLink(db, linkId)
  const target = await db.Target.findOne({ where: { hash: link.destinationHash } })
  if (!target) return { target: null, nextAt: null, frames: null, items: [] }
  const checks = await db.TargetCheck.findAll({
    where: { targetId: target.id },
    order: [
      ['at', 'DESC'],
      ['id', 'DESC'],
    ],
    limit: MAX_CHECKS,
  })
  return {
    target: toTargetView(target),
    nextAt: target.dueAt.toISOString(),
    frames: toFrames(target.frames, `https://${domain.host}`),
    items: checks.map(toCheckView),
  }
}
