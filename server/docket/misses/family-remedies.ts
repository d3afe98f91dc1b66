import { ruleCreate } from '../../../core/schemas'
import { decideMiss } from '../../usecases/misses/decide-miss'
import { familyOf } from '../../usecases/misses/family-of'
import { findMiss } from '../../usecases/misses/find-miss'
import { fieldProblem, Problem } from '../../usecases/problem'
import { insertRule } from '../../usecases/rules/rules'
import { remedyView, type ComposedRemedy } from '../remedy'
import { inOneChange, would, type Context } from './context'

/** What can be done about a family: the rule that serves it, proved first, or taking all of it for noise. */
export async function familyRemedies(context: Context): Promise<ComposedRemedy[]> {
  const { db, row, domain } = context
  const shape = row.subject.slice(row.subject.indexOf('/') + 1)
  const family = await familyOf(db, domain.id, shape)
  if (!family) return []
  const visitors = family.members.reduce((sum, member) => sum + member.visitors, 0)
  const [first] = family.members
  const proved =
    family.clashes.length === 0
      ? 'Proved on automata against all links and rules of the domain: it clashes with nothing.'
      : `It would be in conflict: ${family.clashes[0]!.sentence}`
  return [
    {
      view: remedyView({
        id: 'rule',
        title: `Add the rule ${family.pattern}`,
        sentence:
          `It matches ${family.members.length} addresses that were requested but not found, and all others of this ` +
          'pattern.',
        destination: family.destination,
        verified: `${proved} ${would(visitors)}`,
        applies: true,
        undoable: true,
        asks: [
          ...(family.destination === null ? (['destination'] as const) : []),
          ...(family.clashes.length > 0 ? (['reason'] as const) : []),
        ],
        visitsKept: Number(row.impact),
      }),
      apply: (actor, request = {}) =>
        inOneChange(context, actor, async (change) => {
          const destination = family.destination ?? request.destination
          if (!destination)
            throw fieldProblem(
              'destination',
              'Enter the destination of the rule, for example https://www.example/{number}.',
            )
          if (family.clashes.length > 0 && !request.reason)
            throw new Problem(409, 'Would be in conflict', `${proved} Enter a reason to add it anyway.`)
          await insertRule(
            db,
            change,
            ruleCreate.parse({
              domain: domain.host,
              title: `Requested but not found: /${shape}`,
              pattern: family.pattern,
              destination,
              reason: request.reason || `From the docket: ${row.headline}`,
            }),
          )
          return `The rule ${family.pattern} serves them from now on.`
        }),
    },
    ...(first ? [shapeNoise(context, first.id, shape)] : []),
  ]
}

const shapeNoise = (context: Context, id: number, shape: string): ComposedRemedy => ({
  view: remedyView({
    id: 'noise-shape',
    title: `Mark everything like /${shape} as noise`,
    sentence: 'Hidden from the list and still counted. Can be undone.',
    verified: 'No change for visitors.',
    applies: true,
    undoable: true,
  }),
  apply: (actor, request = {}) =>
    inOneChange(context, actor, async (change) =>
      decideMiss(context.db, change, await findMiss(context.db, id, change), {
        decision: 'noise-shape',
        reason: request.reason ?? '',
      }),
    ),
})
