import type { ConflictKind } from '../../../../core/conflicts'
import type { Database } from '../../../database/open'
import type { DocketCaseModel } from '../../../database/models/docket-case'
import { currentSurvey } from '../../../usecases/conflicts/survey'
import type { ComposedRemedy } from '../../remedy'
import type { Context } from './context'
import { keepAsItIs } from './keep'
import { end, exception, goBack, straight } from './links'
import { merge, throughTo } from './merge'
import { rename } from './rename'
import { giveRulesDestination, moveUp, narrow, switchOff } from './rules'

type Remedies = (context: Context) => Promise<(ComposedRemedy | undefined)[]>

const apart: Remedies = async (context) => [
  await rename(context, context.links.at(-1)!),
  ...merge(context, context.links[0]!, context.links.slice(1)),
  keepAsItIs(context),
]

/** What may be done about each kind of conflict, the best first. */
const REMEDIES: Record<ConflictKind, Remedies> = {
  'look-alike': apart,
  'one-slip': apart,
  twins: async (context) => [...merge(context, context.links[0]!, context.links.slice(1)), keepAsItIs(context)],
  'same-address': async (context) => merge(context, context.links[0]!, context.links.slice(1)),
  hidden: async (context) =>
    context.links.length > 0
      ? [...narrow(context), ...(await giveRulesDestination(context)), keepAsItIs(context)]
      : [...moveUp(context), ...switchOff(context, context.rules[0]!), keepAsItIs(context)],
  overlapping: async (context) => [keepAsItIs(context), ...context.rules.flatMap((rule) => switchOff(context, rule))],
  loop: async (context) =>
    [
      ...(await goBack(context)),
      ...context.links.flatMap((link) => end(context, link)),
      ...context.rules.flatMap((rule) => switchOff(context, rule)),
    ].slice(0, 4),
  chain: async (context) => {
    const [link] = context.links
    return [
      ...(link ? throughTo(context, link) : []),
      ...(link ? straight(context, link) : []),
      ...(link && context.conflict.end === undefined ? end(context, link) : []),
      keepAsItIs(context),
    ]
  },
  'rule-breaker': async (context) => [
    await rename(context, context.links[0]!),
    exception(context),
    ...end(context, context.links[0]!),
  ],
}

/** The remedies of a case of the Conflicts lane, each tried on the register as it stands before it is offered. */
export async function conflictRemedies(db: Database, row: DocketCaseModel): Promise<ComposedRemedy[]> {
  const survey = await currentSurvey(db)
  const conflict = row.conflict && survey.conflict(row.conflict.key)
  if (!conflict) return []
  const links = conflict.links
    .map((id) => survey.state.links.get(id))
    .filter((link) => link !== undefined)
    .sort((a, b) => b.visits28 - a.visits28 || a.id - b.id)
  const rules = conflict.rules.map((id) => survey.state.rules.get(id)).filter((rule) => rule !== undefined)
  const context: Context = { db, survey, row, conflict, links, rules }
  return (await REMEDIES[conflict.kind](context)).filter((remedy) => remedy !== undefined)
}
