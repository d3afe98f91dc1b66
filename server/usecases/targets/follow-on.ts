import { followParameters, judge, VERDICTS } from '../../../core/targets'
import type { Trace } from '../../../core/schemas'
import type { Database } from '../../database/open'
import type { NamesContext } from '../../names/context'
import type { Actor } from '../ledger/change'
import { Problem } from '../problem'
import { askNow } from './ask-now'
import { toHops } from './target-view'

/**
 * Goes on from our own answer to the final page, hop by hop, signed out: through our own domains by the table, through
 * others by asking. Each parameter is followed, and the hop that lost it named; 0 is our own answer.
 */
export async function followOn(
  db: Database,
  { names, actor }: { names: NamesContext; actor: Actor },
  { address, location, language }: { address: string; location: string; language: string },
): Promise<NonNullable<Trace['onward']>> {
  if (!/^https?:/i.test(location))
    return { state: 'idle', sentence: 'Hands visitors to an app', final: null, hops: [], parameters: [] }
  let evidence
  try {
    ;({ evidence } = await askNow(db, names, actor, location, { language }))
  } catch (error) {
    // What is known of our own answer is told all the same.
    if (!(error instanceof Problem)) throw error
    return {
      state: 'idle',
      sentence: `It could not be asked on. ${error.detail}`,
      final: null,
      hops: [],
      parameters: [],
    }
  }
  const judged = judge(evidence)
  const { worst } = VERDICTS[judged.verdict]
  const all = [{ url: `https://${address}` }, ...evidence.hops]
  return {
    state: worst,
    sentence: worst === 'sound' ? `Arrives. ${judged.sentence}` : judged.sentence,
    final: judged.final,
    hops: toHops(evidence),
    parameters: followParameters(all).map(({ name, value, hop, by }) => ({
      name,
      value,
      lostAt: hop === 0 ? null : hop - 1,
      by: by || null,
    })),
  }
}
