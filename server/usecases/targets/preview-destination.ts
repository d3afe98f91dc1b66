import { RateLimiterMemory } from 'rate-limiter-flexible'
import pLimit from 'p-limit'
import { judge, VERDICTS } from '../../../core/targets'
import type { CheckPreview } from '../../../core/schemas'
import type { Database } from '../../database/open'
import type { NamesContext } from '../../names/context'
import { Busy } from '../../targets/asker'
import { checkDestination } from '../../targets/check'
import type { Actor } from '../ledger/change'
import { Problem } from '../problem'
import { toFrames, toHops } from './target-view'
import { checksOf } from './try-again'

// Who types a destination asks a few; nobody asks the web through us.
const tries = new RateLimiterMemory({ points: 40, duration: 60 })
const atOnce = pLimit(6)

/** Checks a destination that nothing leads to yet, as a stranger; writes nothing. */
export async function previewDestination(
  db: Database,
  names: NamesContext,
  actor: Actor,
  destination: string,
): Promise<CheckPreview> {
  await tries.consume(actor.name).catch(() => {
    throw new Problem(
      429,
      'Too many checks',
      'At most 40 destinations a minute are checked for one person; wait a little.',
    )
  })
  if (!/^https?:/i.test(destination))
    throw new Problem(
      422,
      'Cannot be checked',
      'Only http:// and https:// destinations can be checked; this one opens an app.',
    )
  const { asker } = await checksOf(db, names)()
  const { evidence } = await atOnce(() => checkDestination(asker, destination)).catch((error: unknown) => {
    if (error instanceof Busy)
      throw new Problem(
        503,
        'Cannot be asked now',
        `${error.host} asked to be left alone for a while; try again later.`,
      )
    throw error
  })
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
