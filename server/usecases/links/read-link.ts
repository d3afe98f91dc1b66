import type { Link } from '../../../core/schemas'
import type { Database } from '../../database/open'
import { findLink } from './find-link'
import { readTags, toLinkView } from './link-state'
import { readTargets, toTargetView } from '../targets/target-view'
import { readDaily, readForwarding } from './listed-views'
import { listPlacements } from './placements'

/** Days of visits told with a single link. */
const DAYS = 60

/** One link with its visits of the last 60 days. */
export async function readLink(db: Database, id: number): Promise<Link> {
  const { link, domain } = await findLink(db, id)
  const [tags, daily, forwarding, placements, targets] = await Promise.all([
    readTags(db, [id]),
    readDaily(db, [id], DAYS),
    readForwarding(db, [id]),
    listPlacements(db, id),
    readTargets(db, [link.destinationHash]),
  ])
  return {
    ...toLinkView(link, domain, tags.get(id)!, new Date()),
    daily: daily.get(id)!,
    aliases: forwarding.get(id) ?? [],
    placements,
    target: toTargetView(targets.get(link.destinationHash)),
  }
}
