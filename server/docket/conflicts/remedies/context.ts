import { findLink } from '../../../usecases/links/find-link'
import { writeLink } from '../../../usecases/links/change-link'
import { linkState, readTags } from '../../../usecases/links/link-state'
import type { Action } from '../../../../core/ledger'
import { severityOf, type Conflict, type Survey, type SurveyChange } from '../../../../core/conflicts'
import { isRemark } from '../../../../core/docket'
import type { SurveyLink, SurveyRule } from '../../../../core/rows'
import type { Remedy, RemedyRequest } from '../../../../core/schemas'
import type { DocketCaseModel } from '../../../database/models/docket-case'
import type { Database } from '../../../database/open'
import { acceptConflicts, refuseConflicts } from '../../../usecases/conflicts/conflict-gate'
import { runChange, type Actor, type Change } from '../../../usecases/ledger/change'
import { Problem } from '../../../usecases/problem'
import { findRule, ruleState } from '../../../usecases/rules/rule-state'
import { writeRule } from '../../../usecases/rules/rules'
import { settle } from '../../keeper'
import { remedyView, type ComposedRemedy } from '../../remedy'

export interface Context {
  db: Database
  survey: Survey
  row: DocketCaseModel
  conflict: Conflict
  links: SurveyLink[]
  rules: SurveyRule[]
}

/** A remedy that is applied from here and can be undone. */
export const viewOf = (context: Context, input: Partial<Remedy> & Pick<Remedy, 'id' | 'title' | 'sentence'>): Remedy =>
  remedyView({ applies: true, undoable: true, visitsKept: Number(context.row.impact), ...input })

/** What a change would do to this conflict and to others, in words; `undefined` where it does not help or does harm. */
export function tried({ survey, conflict }: Context, wish: SurveyChange): string | undefined {
  const diff = survey.preview(wish)
  if (
    !diff.removed.some(({ key }) => key === conflict.key) ||
    diff.added.some((added) => !isRemark({ kind: added.kind, severity: severityOf(added) }))
  )
    return undefined
  const more = diff.removed.length - 1
  return (
    'Tried on the register as it stands: this conflict ' +
    `goes${more > 0 ? `, ${more === 1 ? 'another one' : `${more} others`} with it` : ''}, and ` +
    `${diff.added.length === 0 ? 'none comes' : 'only addresses of one place remain, which is no conflict'}.`
  )
}

/** Runs a remedy as one change; the case must still stand, and is settled by whoever applies it. */
export function applying(
  context: Context,
  sentence: string,
  work: (change: Change, request: RemedyRequest) => Promise<{ links?: number[]; rules?: number[] }>,
  reason?: string,
): NonNullable<ComposedRemedy['apply']> {
  const { db, row, conflict } = context
  return async (actor: Actor, request: RemedyRequest = {}) => {
    await runChange(
      db,
      actor,
      async (change) => {
        if (!change.survey.conflict(conflict.key))
          throw new Problem(409, 'Already settled', 'Someone else has settled this case. Nothing was changed.')
        const touched = await work(change, request)
        const why = request.reason || reason
        await acceptConflicts(db, change, await refuseConflicts(db, change, touched, why), why)
        await row.reload({ transaction: change.transaction, lock: change.transaction.LOCK.UPDATE })
        await settle(row, change.actor.name, change.now, change.transaction)
      },
      { surveyed: true },
    )
    return sentence
  }
}

export const addressOf = ({ survey }: Context, link: SurveyLink) => survey.state.address(link.domainId, link.slug)
export const reasonOf = (context: Context) => `From the docket: ${context.row.headline}`

/** Changes fields of a link by its row, with the entry. */
export async function rewrite(
  context: Context,
  change: Change,
  surveyed: SurveyLink,
  fields: Record<string, unknown>,
  action: Action,
  request: RemedyRequest,
): Promise<{ links: number[] }> {
  const { db } = context
  const { link, domain } = await findLink(db, surveyed.id, change.transaction)
  const tags = (await readTags(db, [surveyed.id], change.transaction)).get(surveyed.id)!
  const before = linkState(link, tags)
  await writeLink(db, change, link, domain, { ...before, ...fields })
  await change.record({
    action,
    subject: { kind: 'link', id: surveyed.id, label: `${domain.host}/${link.slug}` },
    reason: request.reason || reasonOf(context),
    before,
    after: linkState(link, tags),
  })
  return { links: [surveyed.id] }
}

export async function rewriteRule(
  context: Context,
  change: Change,
  surveyed: SurveyRule,
  fields: Record<string, unknown>,
  action: Action,
  request: RemedyRequest,
): Promise<{ rules: number[] }> {
  const { rule, domain } = await findRule(context.db, surveyed.id, change)
  const before = ruleState(rule)
  const after = { ...before, ...fields }
  await writeRule(change, rule, after)
  await change.record({
    action,
    subject: { kind: 'rule', id: surveyed.id, label: `${domain.host} ${rule.pattern}` },
    reason: request.reason || reasonOf(context),
    before,
    after,
  })
  return { rules: [surveyed.id] }
}
