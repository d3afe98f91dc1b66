import { isFailure, judge, resemblance, type Evidence } from '../../../core/targets'
import { Busy, type Asker } from '../../targets/asker'
import { checkDestination, type Checked } from '../../targets/check'

/** Two pages so alike are one. */
const SAME = 0.9

/** Why a place that answers is no better than what is there now; `undefined` where it is. */
export function sameAgain(evidence: Evidence | null, { evidence: found }: Checked): string | undefined {
  const [now, then] = [evidence?.page, found.page]
  if (!now || !then || now.words === 0 || now.sketch.length === 0) return undefined
  return resemblance(now.sketch, then.sketch) >= SAME ? 'It shows the very same page as now.' : undefined
}

export type Tried =
  | { ok: true; final: string; why: string; title: string; checked: Checked }
  | { ok: false; why: string; checked?: Checked }

/** Asks for a place as a visitor would; sound where a visitor who comes there arrives. */
export async function tryOut(asker: Asker, to: string): Promise<Tried> {
  try {
    const checked = await checkDestination(asker, to)
    const judged = judge(checked.evidence)
    const last = checked.evidence.hops.at(-1)!
    if (isFailure(judged.verdict)) return { ok: false, why: judged.sentence, checked }
    const title = checked.evidence.page?.title ?? ''
    const called = title ? `, “${title}”` : ''
    return {
      ok: true,
      // Who moved for good is gone to straight.
      final: judged.verdict === 'moved-permanently' ? last.url : to,
      why: `answers ${last.status}${called}`,
      title,
      checked,
    }
  } catch (error) {
    if (error instanceof Busy) return { ok: false, why: `${error.host} asked to be left alone for a while.` }
    throw error
  }
}
