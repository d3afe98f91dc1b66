import { judge, VERDICTS } from '../../../core/targets'
import type { CheckPreview } from '../../../core/schemas'
import type { Database } from '../../database/open'
import type { NamesContext } from '../../names/context'
import type { Actor } from '../ledger/change'
import { Problem } from '../problem'
import type { Checked } from '../../targets/check'
import { destinationHash } from '../links/link-state'
import { askNow } from './ask-now'
import { readSettings } from './check-settings'
import { storeCheck } from './check-target'
import { interestIn } from './link-targets'
import { toFrames, toHops } from './target-view'
import { wantChecked } from './want-checked'

/** How long a preview says how a destination is, and how many are kept. */
const KEPT_MS = 10 * 60_000
const MAX_KEPT = 500
const kept = new Map<string, { at: number; checked: Checked }>()

/** Checks a destination that nothing leads to yet, as a signed-out visitor; writes nothing. */
export async function previewDestination(
  db: Database,
  names: NamesContext,
  actor: Actor,
  destination: string,
): Promise<CheckPreview> {
  if (!/^https?:/i.test(destination))
    throw new Problem(
      422,
      'Cannot be checked',
      'Only http:// and https:// destinations can be checked; this one opens an app.',
    )
  const checked = await askNow(db, names, actor, destination)
  const { evidence } = checked
  if (kept.size >= MAX_KEPT) kept.delete(kept.keys().next().value!)
  kept.set(destinationHash(destination), { at: Date.now(), checked })
  const judged = judge(evidence)
  const last = evidence.hops.at(-1)!
  return {
    verdict: judged.verdict,
    confidence: VERDICTS[judged.verdict].worst,
    sentence: judged.sentence,
    final: judged.final,
    title: evidence.page?.title ?? '',
    card: evidence.page?.card ?? null,
    frames: toFrames(last.fields, 'https://frame.invalid'),
    hops: toHops(evidence),
    facts: judged.facts,
  }
}

/**
 * Stores what a preview saw of a destination as the first check of the link that was created with it: the link is not
 * “not checked yet” after its destination was seen a moment ago.
 */
export async function storePreview(db: Database, destination: string): Promise<void> {
  const hash = destinationHash(destination)
  const preview = kept.get(hash)
  if (!preview || Date.now() - preview.at > KEPT_MS) return
  await wantChecked(db, [{ hash, destination }], { urgent: false })
  const target = await db.Target.findOne({ where: { hash } })
  // Checked since, or just being checked by a worker.
  if (!target || target.checkedAt || target.leasedBy) return
  const { evidence, waitMs } = preview.checked
  const judged = judge(evidence)
  const settings = await readSettings(db)
  await storeCheck(db, settings, target, {
    evidence,
    judged,
    headWorks: null,
    interest: await interestIn(db, hash),
    waitMs,
  })
}
