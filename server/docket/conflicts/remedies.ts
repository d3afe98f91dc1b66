import type { Action } from '../../../core/ledger'
import { canonicalSlug, destinationKey, judgeSlug, SLUG_REFUSALS } from '../../../core/address'
import {
  lookNeighbours,
  servingRule,
  slipNeighbours,
  tellConflict,
  type Conflict,
  type Survey,
  type SurveyChange,
} from '../../../core/conflicts'
import type { SurveyLink, SurveyRule } from '../../../core/rows'
import { breachesOf, suggestSlugs } from '../../../core/slugs'
import type { Remedy, RemedyRequest } from '../../../core/schemas'
import type { Database } from '../../database/open'
import type { DocketCaseModel } from '../../database/models/docket-case'
import type { ComposedRemedy } from '../domains/remedies'
import { caseState } from '../../usecases/docket/case-state'
import { change, type Actor, type Change } from '../../usecases/ledger/change'
import { writeLink } from '../../usecases/links/change-link'
import { acceptConflicts, printOf, refuseConflicts } from '../../usecases/conflicts/conflict-gate'
import { findLink } from '../../usecases/links/find-link'
import { settle } from '../keep-cases'
import { linkState, readTags } from '../../usecases/links/link-state'
import { mergeLink } from '../../usecases/links/merge-links'
import { fieldProblem, Problem } from '../../usecases/problem'
import { canonicalFor, moveAddress } from '../../usecases/links/rename-link'
import { findRule, ruleState } from '../../usecases/rules/rule-state'
import { moveRules, writeRule } from '../../usecases/rules/rules'
import { currentSurvey } from '../../usecases/conflicts/survey'

interface Context {
  db: Database
  survey: Survey
  row: DocketCaseModel
  conflict: Conflict
  links: SurveyLink[]
  rules: SurveyRule[]
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
  const keep = keepAsItIs(context)
  switch (conflict.kind) {
    case 'look-alike':
    case 'one-slip':
      return [await rename(context, links.at(-1)!), ...merge(context, links[0]!, links.slice(1)), keep].filter(
        (remedy) => remedy !== undefined,
      )
    case 'twins':
      return [...merge(context, links[0]!, links.slice(1)), keep]
    case 'same-address':
      return merge(context, links[0]!, links.slice(1))
    case 'hidden':
      return links.length > 0
        ? [...narrow(context), ...(await giveRulesDestination(context)), keep]
        : [...moveUp(context), ...switchOff(context, rules[0]!), keep]
    case 'overlapping':
      return [keep, ...rules.flatMap((rule) => switchOff(context, rule))]
    case 'loop':
      return [
        ...(await goBack(context)),
        ...links.flatMap((link) => end(context, link)),
        ...rules.flatMap((rule) => switchOff(context, rule)),
      ].slice(0, 4)
    case 'chain':
      return [
        ...(links[0] ? throughTo(context, links[0]) : []),
        ...(links[0] ? straight(context, links[0]) : []),
        ...(links[0] && conflict.end === undefined ? end(context, links[0]) : []),
        keep,
      ]
    case 'rule-breaker':
      return [await rename(context, links[0]!), exception(context), ...end(context, links[0]!)].filter(
        (remedy) => remedy !== undefined,
      )
  }
}

const told = (context: Context, given: Partial<Remedy> & Pick<Remedy, 'title' | 'sentence'>): Remedy => ({
  verified: '',
  applies: true,
  undoable: true,
  to: null,
  records: [],
  asks: [],
  proposed: null,
  visitsKept: Number(context.row.impact),
  ...given,
})

/** What a change would do to this conflict and to others, in words; `undefined` where it does not help or does harm. */
function tried(
  { survey, conflict }: Context,
  wish: SurveyChange,
  bearable: readonly Conflict['kind'][] = [],
): string | undefined {
  const diff = survey.preview(wish)
  if (!diff.removed.some(({ key }) => key === conflict.key) || diff.added.some(({ kind }) => !bearable.includes(kind)))
    return undefined
  const more = diff.removed.length - 1
  return `Tried on the register as it stands: this conflict goes${more > 0 ? `, ${more === 1 ? 'another one' : `${more} others`} with it` : ''}, and ${diff.added.length === 0 ? 'none comes' : 'two addresses of one place remain, kept with this reason'}.`
}

/** Runs a remedy as one change; the case must still stand, and is settled by whoever applies it. */
function applying(
  context: Context,
  sentence: string,
  work: (under: Change, request: RemedyRequest) => Promise<{ links?: number[]; rules?: number[] }>,
  reason?: string,
): NonNullable<ComposedRemedy['apply']> {
  const { db, row, conflict } = context
  return async (actor: Actor, request: RemedyRequest = {}) => {
    await change(
      db,
      actor,
      async (under) => {
        if (!under.survey.conflict(conflict.key))
          throw new Problem(
            409,
            'Settled meanwhile',
            'What this case tells of is no more; somebody settled it meanwhile.',
          )
        const touched = await work(under, request)
        const why = request.reason || reason
        await acceptConflicts(db, under, await refuseConflicts(db, under, touched, why), why)
        await row.reload({ transaction: under.transaction, lock: under.transaction.LOCK.UPDATE })
        await settle(row, under.actor.name, under.now, under.transaction)
      },
      { surveyed: true },
    )
    return sentence
  }
}

const addressOf = ({ survey }: Context, link: SurveyLink) => survey.state.address(link.domainId, link.slug)
const reasonOf = (context: Context) => `From the docket: ${context.row.headline}`

/** A link under another slug, its old one forwarding, as it would be. */
const renamed = (link: SurveyLink, slug: string, canonical: string): SurveyChange => ({
  links: [
    { ...link, slug, canonical },
    { ...link, id: -1, forwardsTo: link.id, visits28: 0 },
  ],
})

async function rename(context: Context, link: SurveyLink): Promise<ComposedRemedy | undefined> {
  const { db, survey } = context
  const domain = survey.state.domains.get(link.domainId)!
  const table = survey.state.table.domains.get(link.domainId)!
  const title = (await db.Link.findByPk(link.id, { attributes: ['title'] }))?.title ?? ''
  const suggestions = suggestSlugs(
    {
      title,
      destination: link.destination,
      typed: link.slug,
      rules: domain.slugRules,
      capitalsMatter: domain.capitalsMatter,
    },
    {
      isFree: (slug) => {
        const canonical = judgeSlug(slug) ? undefined : canonicalSlug(slug, domain)
        return canonical !== undefined && canonical !== '' && !table.links.has(canonical)
      },
      neighbours: (slug) =>
        lookNeighbours(survey.state, link.domainId, canonicalSlug(slug, domain)!).length +
        slipNeighbours(survey.state, link.domainId, canonicalSlug(slug, domain)!).length,
    },
    12,
  )
  for (const { slug } of suggestions) {
    const verified = tried(context, renamed(link, slug, canonicalSlug(slug, domain)!))
    if (!verified) continue
    return {
      told: told(context, {
        title: `Rename ${addressOf(context, link)}`,
        sentence: `It gets another slug, like ${domain.host}/${slug}; the old one goes on forwarding, so that nothing printed stops working.`,
        verified,
        asks: ['slug'],
        proposed: slug,
      }),
      apply: applying(
        context,
        `Renamed ${addressOf(context, link)}; the old slug goes on forwarding.`,
        async (under, request) => {
          const wanted = request.slug ?? slug
          const refusal = judgeSlug(wanted)
          if (refusal) throw fieldProblem('slug', SLUG_REFUSALS[refusal.reason](refusal.character ?? ''))
          const found = await findLink(db, link.id, under.transaction)
          const breaches = breachesOf(wanted, domain.slugRules, domain.capitalsMatter)
          if (breaches.length > 0) throw fieldProblem('slug', breaches[0]!.sentence)
          const tags = (await readTags(db, [link.id], under.transaction)).get(link.id)!
          const before = linkState(found.link, tags)
          const after = { ...before, slug: wanted, canonical: canonicalFor(wanted, found.domain), exception: false }
          await moveAddress(db, under, found.link, found.domain, after, true)
          await writeLink(db, under, found.link, found.domain, after)
          await under.record({
            action: 'rename',
            subject: { kind: 'link', id: link.id, label: `${found.domain.host}/${before.slug}` },
            reason: request.reason || reasonOf(context),
            before,
            after: linkState(found.link, tags),
          })
          return { links: [link.id] }
        },
      ),
    }
  }
  return undefined
}

function merge(context: Context, into: SurveyLink, links: readonly SurveyLink[]): ComposedRemedy[] {
  const { db, survey, conflict } = context
  const same = conflict.kind === 'same-address'
  const verified = same
    ? 'The two answer at one address already.'
    : tried(context, {
        links: links.flatMap((link) => [
          { ...link, forwardsTo: into.id },
          ...[...(survey.state.forwards.get(link.id) ?? [])].map((id) => ({
            ...survey.state.links.get(id)!,
            forwardsTo: into.id,
          })),
        ]),
      })
  if (!verified || (conflict.count ?? 0) > conflict.links.length) return []
  const names =
    links.length > 3
      ? `The other ${links.length} addresses`
      : links.map((link) => addressOf(context, link)).join(' and ')
  const elsewhere = links.some((link) => destinationKey(link.destination) !== destinationKey(into.destination))
  return [
    {
      told: told(context, {
        title: `Merge into ${addressOf(context, into)}`,
        verified,
        sentence: `${names} ${links.length > 1 ? 'go' : 'goes'} on and ${links.length > 1 ? 'answer' : 'answers'} as ${addressOf(context, into)} does, from one destination: ${into.destination}.${elsewhere ? ` What ${links.length > 1 ? 'they' : 'it'} led to until now is left.` : ''}`,
      }),
      apply: applying(context, `Merged into ${addressOf(context, into)}.`, async (under, request) => {
        const leader = await findLink(db, into.id, under.transaction)
        for (const link of links)
          await mergeLink(db, under, (await findLink(db, link.id, under.transaction)).link, leader.link, {
            reason: request.reason || reasonOf(context),
            ...(same && { canonical: null }),
          })
        return { links: [into.id, ...links.map(({ id }) => id)] }
      }),
    },
  ]
}

/** Keeps a conflict with a reason; it comes back when what it is about changes. */
function keepAsItIs(context: Context): ComposedRemedy {
  const { db, row, conflict, survey } = context
  return {
    told: told(context, {
      title: 'Keep it as it is, and say why',
      sentence:
        'The case is settled with your reason. It comes back if one of these addresses, destinations or patterns changes.',
      asks: ['reason'],
      visitsKept: 0,
    }),
    apply: async (actor, request) => {
      const reason = request?.reason
      if (!reason) throw fieldProblem('reason', 'Say why it stays as it is, for whoever wonders later.')
      await change(db, actor, async (under) => {
        await row.reload({ transaction: under.transaction, lock: under.transaction.LOCK.UPDATE })
        const before = caseState(row)
        await acceptConflicts(
          db,
          under,
          [{ conflict, told: tellConflict(survey.state, conflict), print: printOf(survey, conflict) }],
          reason,
        )
        await under.record({
          action: 'keep',
          subject: { kind: 'case', id: Number(row.id), label: `${row.subject}: ${row.headline}` },
          reason,
          before,
          after: { ...before, state: 'settled', reason },
        })
      })
      return 'Kept as it is.'
    },
  }
}

function end(context: Context, link: SurveyLink): ComposedRemedy[] {
  const verified = tried(context, { links: [{ ...link, standing: 'ended' }] })
  if (!verified) return []
  return [
    {
      told: told(context, {
        title: `End ${addressOf(context, link)}`,
        sentence: 'Its visitors get the ended-address, or are told that it is over; its slug stays reserved.',
        verified,
        visitsKept: 0,
      }),
      apply: applying(context, `Ended ${addressOf(context, link)}.`, (under, request) =>
        rewrite(context, under, link, { standing: 'ended', resumesAt: null }, 'end', request),
      ),
    },
  ]
}

/** Changes fields of a link by its row, with the entry. */
async function rewrite(
  context: Context,
  under: Change,
  surveyed: SurveyLink,
  fields: Record<string, unknown>,
  action: Action,
  request: RemedyRequest,
): Promise<{ links: number[] }> {
  const { db } = context
  const { link, domain } = await findLink(db, surveyed.id, under.transaction)
  const tags = (await readTags(db, [surveyed.id], under.transaction)).get(surveyed.id)!
  const before = linkState(link, tags)
  await writeLink(db, under, link, domain, { ...before, ...fields })
  await under.record({
    action,
    subject: { kind: 'link', id: surveyed.id, label: `${domain.host}/${link.slug}` },
    reason: request.reason || reasonOf(context),
    before,
    after: linkState(link, tags),
  })
  return { links: [surveyed.id] }
}

/** The link a chain leads through, where it could take the first one in. */
function throughTo(context: Context, link: SurveyLink): ComposedRemedy[] {
  const { survey, conflict } = context
  const [, next] = conflict.via!
  const domain = next === undefined ? undefined : survey.state.table.hosts.get(next.slice(0, next.indexOf('/')))
  const entry = domain?.links.get(next!.slice(next!.indexOf('/') + 1))
  const target = entry && survey.state.links.get(entry.leader)
  return target && target.id !== link.id ? merge(context, target, [link]) : []
}

function straight(context: Context, link: SurveyLink): ComposedRemedy[] {
  const { conflict } = context
  if (conflict.end === undefined) return []
  const destination = conflict.end
  // The link it led through leads there too: the two are twins from then on.
  const verified = tried(context, { links: [{ ...link, destination }] }, ['twins'])
  if (!verified) return []
  return [
    {
      told: told(context, {
        title: 'Point straight at the end',
        sentence: `${addressOf(context, link)} leads to ${destination} itself, without passing ${conflict.via!.slice(1).join(', ')}.`,
        verified,
      }),
      apply: applying(
        context,
        `${addressOf(context, link)} leads straight to ${destination}.`,
        (under, request) => rewrite(context, under, link, { destination }, 'change-destination', request),
        reasonOf(context),
      ),
    },
  ]
}

/** Earlier destinations of the links in a circle, from the ledger, that lead out of it. */
async function goBack(context: Context): Promise<ComposedRemedy[]> {
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
        told: told(context, {
          title: `Give ${addressOf(context, link)} its earlier destination back`,
          sentence: `It led to ${destination} before, which is outside of the circle.`,
          verified,
        }),
        apply: applying(context, `${addressOf(context, link)} leads to ${destination} again.`, (under, request) =>
          rewrite(context, under, link, { destination }, 'change-destination', request),
        ),
      })
      break
    }
  }
  return found
}

function exception(context: Context): ComposedRemedy {
  const link = context.links[0]!
  return {
    told: told(context, {
      title: 'Keep it as an exception',
      sentence: 'It stays as it is, and is not told of again for its slug.',
      asks: ['reason'],
      verified: tried(context, { links: [{ ...link, exception: true }] }) ?? '',
    }),
    apply: applying(context, `${addressOf(context, link)} is an exception.`, (under, request) => {
      if (!request.reason) throw fieldProblem('reason', 'Say why it is an exception, for whoever wonders later.')
      return rewrite(context, under, link, { exception: true }, 'except', request)
    }),
  }
}

/** Puts a rule that is never reached before the first of those that hide it. */
function moveUp(context: Context): ComposedRemedy[] {
  const { db, survey, rules } = context
  const rule = rules[0]!
  const all = survey.state.rulesOf(rule.domainId).rules
  const before = all.find(({ id }) => rules.slice(1).some((taker) => taker.id === id))
  if (!before) return []
  const order = all.map(({ id }) => id).filter((id) => id !== rule.id)
  order.splice(order.indexOf(before.id), 0, rule.id)
  const verified = tried(context, {
    rules: order.map((id, index) => ({ ...survey.state.rules.get(id)!, position: index + 1 })),
  })
  if (!verified) return []
  return [
    {
      told: told(context, {
        title: `Move it up, before “${before.pattern}”`,
        sentence: `“${rule.pattern}” is asked first and takes its addresses; “${before.pattern}” takes what is left.`,
        verified,
      }),
      apply: applying(context, `Moved “${rule.pattern}” up.`, async (under, request) => {
        const rows = await db.Rule.findAll({
          where: { domainId: rule.domainId },
          order: [
            ['position', 'ASC'],
            ['id', 'ASC'],
          ],
          transaction: under.transaction,
          lock: under.transaction.LOCK.UPDATE,
        })
        const ids = rows.map((row) => Number(row.id)).filter((id) => id !== rule.id)
        ids.splice(Math.max(0, ids.indexOf(before.id)), 0, rule.id)
        await moveRules(
          db,
          under,
          rows,
          ids,
          survey.state.domains.get(rule.domainId)!.host,
          request.reason || reasonOf(context),
        )
        return { rules: ids }
      }),
    },
  ]
}

function switchOff(context: Context, rule: SurveyRule): ComposedRemedy[] {
  const verified = tried(context, { rules: [{ ...rule, active: false }] })
  if (!verified) return []
  return [
    {
      told: told(context, {
        title: `Switch “${rule.pattern}” off`,
        sentence: 'It is kept, and takes nothing until it is switched on again.',
        verified,
        visitsKept: 0,
      }),
      apply: applying(context, `Switched “${rule.pattern}” off.`, (under, request) =>
        rewriteRule(context, under, rule, { active: false }, 'switch-off', request),
      ),
    },
  ]
}

async function rewriteRule(
  context: Context,
  under: Change,
  surveyed: SurveyRule,
  fields: Record<string, unknown>,
  action: Action,
  request: RemedyRequest,
): Promise<{ rules: number[] }> {
  const { rule, domain } = await findRule(context.db, surveyed.id, under)
  const before = ruleState(rule)
  const after = { ...before, ...fields }
  await writeRule(under, rule, after)
  await under.record({
    action,
    subject: { kind: 'rule', id: surveyed.id, label: `${domain.host} ${rule.pattern}` },
    reason: request.reason || reasonOf(context),
    before,
    after,
  })
  return { rules: [surveyed.id] }
}

const MOST_EXCEPTED = 200

/** Has a rule leave the addresses alone that links of their own have. */
function narrow(context: Context): ComposedRemedy[] {
  const { conflict, links, rules } = context
  const rule = rules[0]!
  if ((conflict.count ?? 0) > links.length) return []
  const except = [...new Set([...rule.except, ...links.map((link) => link.slug)])]
  if (except.length > MOST_EXCEPTED) return []
  const verified = tried(context, { rules: [{ ...rule, except }] })
  if (!verified) return []
  return [
    {
      told: told(context, {
        title:
          links.length === 1
            ? 'Narrow the rule to leave this link out'
            : `Narrow the rule to leave these ${links.length} links out`,
        sentence: `“${rule.pattern}” leaves ${links.length === 1 ? addressOf(context, links[0]!) : 'their addresses'} alone, also should the ${links.length === 1 ? 'link' : 'links'} end. Nothing changes for visitors today.`,
        verified,
      }),
      apply: applying(
        context,
        `“${rule.pattern}” leaves ${links.length === 1 ? 'it' : 'them'} alone.`,
        (under, request) => rewriteRule(context, under, rule, { except }, 'change', request),
      ),
    },
  ]
}

/** Gives the only link of a family that leads elsewhere the destination its rule has for it. */
async function giveRulesDestination(context: Context): Promise<ComposedRemedy[]> {
  const { survey, links } = context
  const link = links[0]!
  const serving = servingRule(survey.state, link.domainId, link.canonical!)
  if (links.length !== 1 || !serving) return []
  const destination = serving.location
  const verified = tried(context, { links: [{ ...link, destination }] })
  if (!verified) return []
  return [
    {
      told: told(context, {
        title: 'Give the link the rule’s destination',
        sentence: `${addressOf(context, link)} leads to ${destination} from then on, as the rule would have it; what it leads to now, ${link.destination}, is left.`,
        verified,
      }),
      apply: applying(context, `${addressOf(context, link)} leads to ${destination}.`, (under, request) =>
        rewrite(context, under, link, { destination }, 'change-destination', request),
      ),
    },
  ]
}
