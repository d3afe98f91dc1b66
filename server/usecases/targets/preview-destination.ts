import { judge, VERDICTS } from '../../../core/targets'
import type { CheckPreview } from '../../../core/schemas'
import type { Database } from '../../database/open'
import type { NamesContext } from '../../names/context'
import type { Actor } from '../ledger/change'
import { Problem } from '../problem'
import { askNow } from './ask-now'
import { toFrames, toHops } from './target-view'

/** Checks a destination that nothing leads to yet, as a stranger; writes nothing. */
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
  const { evidence } = await askNow(db, names, actor, destination)
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
