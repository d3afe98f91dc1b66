import type { SurveyLink } from '../../../../core/rows'
import { fieldProblem } from '../../../usecases/problem'
import type { ComposedRemedy } from '../../remedy'
import { addressOf, applying, reasonOf, rewrite, tried, viewOf, type Context } from './context'

export function end(context: Context, link: SurveyLink): ComposedRemedy[] {
  const verified = tried(context, { links: [{ ...link, standing: 'ended' }] })
  if (!verified) return []
  return [
    {
      view: viewOf(context, {
        id: `end-${link.id}`,
        title: `End ${addressOf(context, link)}`,
        sentence: 'Visitors go to the ended address, or see the Ended page. The slug stays reserved.',
        verified,
        visitsKept: 0,
      }),
      apply: applying(context, `Ended ${addressOf(context, link)}.`, (change, request) =>
        rewrite(context, change, link, { standing: 'ended', resumesAt: null }, 'end', request),
      ),
    },
  ]
}

export function straight(context: Context, link: SurveyLink): ComposedRemedy[] {
  const { conflict } = context
  if (conflict.end === undefined) return []
  const destination = conflict.end
  const verified = tried(context, { links: [{ ...link, destination }] })
  if (!verified) return []
  return [
    {
      view: viewOf(context, {
        id: `straight-${link.id}`,
        title: 'Point to the final page',
        sentence:
          `${addressOf(context, link)} leads to ${destination} itself, without passing ` +
          `${conflict.via!.slice(1).join(', ')}.`,
        verified,
      }),
      apply: applying(
        context,
        `${addressOf(context, link)} leads straight to ${destination}.`,
        (change, request) => rewrite(context, change, link, { destination }, 'change-destination', request),
        reasonOf(context),
      ),
    },
  ]
}

/** Earlier destinations of the links in a circle, from the ledger, that lead out of it. */
export async function goBack(context: Context): Promise<ComposedRemedy[]> {
  const { db, links } = context
  const found: ComposedRemedy[] = []
  for (const link of links) {
    const entries = await db.LedgerEntry.findAll({
      where: { subjectKind: 'link', subjectId: link.id },
      order: [['id', 'DESC']],
      limit: 50,
    })
    const destinations = new Set(
      entries
        .map((entry) => entry.beforeState?.destination)
        .filter((text): text is string => typeof text === 'string' && text !== link.destination),
    )
    for (const destination of destinations) {
      const verified = tried(context, { links: [{ ...link, destination }] })
      if (!verified) continue
      found.push({
        view: viewOf(context, {
          id: `back-${link.id}`,
          title: `Restore the previous destination of ${addressOf(context, link)}`,
          sentence: `Its previous destination, ${destination}, is not part of the loop.`,
          verified,
        }),
        apply: applying(context, `${addressOf(context, link)} leads to ${destination} again.`, (change, request) =>
          rewrite(context, change, link, { destination }, 'change-destination', request),
        ),
      })
      break
    }
  }
  return found
}

export function exception(context: Context): ComposedRemedy {
  const link = context.links[0]!
  return {
    view: viewOf(context, {
      id: `except-${link.id}`,
      title: 'Keep it as an exception',
      sentence: 'The link stays unchanged, and its slug is not reported again.',
      asks: ['reason'],
      verified: tried(context, { links: [{ ...link, exception: true }] }) ?? '',
    }),
    apply: applying(context, `${addressOf(context, link)} is an exception.`, (change, request) => {
      if (!request.reason) throw fieldProblem('reason', 'Enter a reason for the exception.')
      return rewrite(context, change, link, { exception: true }, 'except', request)
    }),
  }
}
