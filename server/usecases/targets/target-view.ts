import { framesAllowed, judge, type Evidence, type FrameRule } from '../../../core/targets'
import type { CheckHop, Link, LinkTarget, TargetCheckView } from '../../../core/schemas'
import type { TargetModel } from '../../database/models/target'
import type { TargetCheckModel } from '../../database/models/target-check'
import type { Database } from '../../database/open'
import { destinationHash } from '../links/link-state'

/** A target as its links tell it; `null` before its first check. */
export function toTargetView(target: TargetModel | null | undefined): LinkTarget | null {
  if (!target?.verdict || !target.confidence || !target.checkedAt) return null
  return {
    verdict: target.verdict,
    confidence: target.confidence,
    sentence: target.sentence ?? '',
    checkedAt: target.checkedAt.toISOString(),
    since: (target.since ?? target.checkedAt).toISOString(),
    final: target.final,
  }
}

/** The targets of destinations, by their hash. */
export async function readTargets(db: Database, hashes: readonly string[]): Promise<Map<string, TargetModel>> {
  if (hashes.length === 0) return new Map()
  const rows = await db.Target.findAll({
    attributes: ['hash', 'verdict', 'confidence', 'sentence', 'checkedAt', 'since', 'final'],
    where: { hash: [...new Set(hashes)] },
  })
  return new Map(rows.map((row) => [row.hash, row]))
}

/** A link with how its destination stands, by what is known of it. */
export async function withTarget(db: Database, link: Link): Promise<Link> {
  const hash = destinationHash(link.destination)
  return { ...link, target: toTargetView((await readTargets(db, [hash])).get(hash)) }
}

/** Hops as people read them. */
export function toHops(evidence: Evidence): CheckHop[] {
  return evidence.hops.map((hop) => ({
    url: hop.url,
    status: hop.status ?? 0,
    via: hop.via,
    address: hop.own ? 'our own table' : hop.address,
    milliseconds: hop.milliseconds,
    text: hop.fault ? hop.fault.text : '',
    state: hop.fault || (hop.status ?? 0) >= 400 ? 'broken' : 'sound',
  }))
}

/** One check, judged by its evidence; one whose evidence is kept no longer has its verdict alone. */
export function toCheckView(row: TargetCheckModel): TargetCheckView {
  const judged = row.evidence ? judge(row.evidence) : undefined
  return {
    id: row.id,
    at: row.at.toISOString(),
    verdict: row.verdict,
    failed: Boolean(row.failed),
    sentence: judged?.sentence ?? '',
    milliseconds: row.milliseconds,
    hops: row.evidence ? toHops(row.evidence) : [],
    facts: judged?.facts ?? [],
  }
}

/** Whether a page of ours could show the destination in a frame. */
export const toFrames = (fields: TargetModel['frames'], origin: string): FrameRule | null =>
  fields === null ? null : framesAllowed(fields, origin)
