import { createHash } from 'node:crypto'
import { REMEDY_KINDS, type FoundRemedy } from '../../../core/targets'
import { showHost } from '../../../core/address'
import type { Remedy, RemedyRequest, RemedyScope } from '../../../core/schemas'
import type { DocketCaseModel } from '../../database/models/docket-case'
import type { TargetModel } from '../../database/models/target'
import type { Database } from '../../database/open'
import type { NamesContext } from '../../names/context'
import { runChange, type Actor } from '../../usecases/ledger/change'
import { changeLinks, type SharedFields } from '../../usecases/links/change-links'
import { Problem } from '../../usecases/problem'
import { interestIn, type Interest } from '../../usecases/targets/link-targets'
import { tryAgain } from '../../usecases/targets/try-again'
import { settle } from '../keeper'
import { remedyView, type ComposedRemedy } from '../remedy'
import { sistersOf, type Sister } from './sisters'

/** What was tried longer ago is tried once more before it is applied. */
export const FRESH_MS = 10 * 60_000

interface Context {
  db: Database
  names: NamesContext
  row: DocketCaseModel
  target: TargetModel
  interest: Interest
}

const shown = (links: Interest['links']) =>
  links.length === 1 ? `${showHost(links[0]!.host)}/${links[0]!.slug}` : `${links.length} links`
const plural = (count: number) => (count === 1 ? '1 link' : `${count.toLocaleString('en')} links`)
const DAYS = 28
const aDay = (links: readonly { visits28: number }[]) =>
  Math.round((links.reduce((sum, link) => sum + link.visits28, 0) / DAYS) * 100) / 100

/** The remedies of a broken target: those found and tried by the worker, then what can be done without another page. */
export async function targetRemedies(
  db: Database,
  names: NamesContext,
  row: DocketCaseModel,
): Promise<ComposedRemedy[]> {
  const target = await db.Target.findOne({ where: { hash: row.caseKey } })
  if (!target) return []
  const context: Context = { db, names, row, target, interest: await interestIn(db, target.hash) }
  if (context.interest.links.length === 0) return []
  const found = await Promise.all((target.remedies?.offers ?? []).map((offer) => leadTo(context, offer)))
  const others = row.remark ? [] : [choose(context), decide(context, 'pause'), decide(context, 'end')]
  return [...found, ...looking(context), ...others, ...inVain(context)]
}

async function leadTo(context: Context, offer: FoundRemedy): Promise<ComposedRemedy> {
  const { target, interest } = context
  const sisters = offer.move ? await sistersOf(context.db, target, offer.move.move) : []
  return {
    view: remedyView({
      id: `${offer.kind}-${createHash('sha256').update(offer.destination).digest('hex').slice(0, 12)}`,
      title: REMEDY_KINDS[offer.kind].title,
      sentence: offer.why,
      destination: offer.destination,
      verified: offer.verified,
      verifiedAt: new Date(target.remedies!.at).toISOString(),
      applies: true,
      undoable: true,
      scopes: scopesOf(interest, sisters),
      visitsKept: Number(context.row.impact),
    }),
    apply: async (actor, request = {}) => {
      if (Date.now() - target.remedies!.at > FRESH_MS) await tryAgain(context.db, context.names, offer.destination)
      const scope = request.scope ?? 'destination'
      const wishes = wishesOf(context, scope, sisters, (to) => ({ destination: to ?? offer.destination }))
      await change(context, actor, wishes, 'change-destination', request)
      return scope === 'move'
        ? `${plural(wishes.size)} now lead where their pages moved to.`
        : `${shown(interest.links.filter(({ id }) => wishes.has(id)))} now ` +
            `${wishes.size === 1 ? 'leads' : 'lead'} to ${offer.destination}.`
    },
  }
}

function scopesOf({ links }: Interest, sisters: readonly Sister[]): Remedy['scopes'] {
  const [first] = links
  const scopes: Remedy['scopes'] = []
  if (links.length > 1)
    scopes.push(
      {
        scope: 'destination',
        label: `All ${links.length} links with this destination`,
        links: links.length,
        visits: aDay(links),
      },
      { scope: 'link', label: `${showHost(first!.host)}/${first!.slug} alone`, links: 1, visits: aDay([first!]) },
    )
  const together = [...links, ...sisters.flatMap((sister) => sister.links)]
  if (sisters.length > 0) {
    if (scopes.length === 0)
      scopes.push({
        scope: 'destination',
        label: `${showHost(first!.host)}/${first!.slug} alone`,
        links: 1,
        visits: aDay(links),
      })
    scopes.push({
      scope: 'move',
      label: `All ${together.length} links the same move explains`,
      links: together.length,
      visits: aDay(together),
    })
  }
  return scopes
}

/** What each link is given: to how many, by the scope asked for. */
function wishesOf(
  { interest }: Context,
  scope: RemedyScope,
  sisters: readonly Sister[],
  fields: (to?: string) => SharedFields,
): Map<number, SharedFields> {
  const own = scope === 'link' ? interest.links.slice(0, 1) : interest.links
  const wishes = new Map(own.map(({ id }) => [id, fields()]))
  if (scope === 'move') for (const { links, to } of sisters) for (const { id } of links) wishes.set(id, fields(to))
  return wishes
}

async function change(
  { db, row, target, interest }: Context,
  actor: Actor,
  wishes: Map<number, SharedFields>,
  action: 'change-destination' | keyof typeof DECISIONS,
  request: RemedyRequest,
): Promise<void> {
  await runChange(
    db,
    actor,
    async (change) => {
      // What is to be mended must still lead where the case says.
      const rows = await db.Link.findAll({
        attributes: ['id', 'destinationHash'],
        where: { id: interest.links.map(({ id }) => id).filter((id) => wishes.has(id)) },
        transaction: change.transaction,
      })
      if (rows.some(({ destinationHash }) => destinationHash !== target.hash))
        throw new Problem(409, 'Changed meanwhile', 'Somebody gave one of these links another destination meanwhile.')
      await changeLinks(db, change, wishes, {
        action,
        reason: request.reason || `From the docket: ${row.headline}`,
        label: `${wishes.size} links of ${target.host}`,
      })
      // None of its links leads there any more: the case is settled by who applied this.
      if (interest.links.every(({ id }) => wishes.has(id))) {
        const found = await db.DocketCase.findByPk(row.id, {
          transaction: change.transaction,
          lock: change.transaction.LOCK.UPDATE,
        })
        if (found && found.state !== 'settled') await settle(found, actor.name, change.now, change.transaction)
      }
    },
    { surveyed: true },
  )
}

/** Said while the worker is still looking. */
function looking({ target }: Context): ComposedRemedy[] {
  if (!target.remediesDue) return []
  return [
    {
      view: remedyView({
        id: 'looking',
        title: 'Searching for the new address',
        sentence: 'The site’s sitemap, its own links, folders above and earlier destinations are being tried.',
      }),
    },
  ]
}

const choose = ({ interest }: Context): ComposedRemedy => ({
  view: remedyView({
    id: 'choose',
    title: 'Choose another destination',
    sentence: 'Edit the link. The new destination is checked as you type.',
    to: `/links/${interest.links[0]!.id}`,
  }),
})

/** What can be decided about the links themselves, whatever became of the page. */
const DECISIONS = {
  pause: {
    standing: 'paused',
    verb: 'Pause',
    done: 'Paused',
    sentence: 'Visitors see the Paused page until someone makes the link live again.',
  },
  end: {
    standing: 'ended',
    verb: 'End',
    done: 'Ended',
    sentence:
      'Visitors get the ended-address of the link or its domain, or are told that it is over; the slug stays reserved.',
  },
} as const

function decide(context: Context, action: keyof typeof DECISIONS): ComposedRemedy {
  const { standing, verb, done, sentence } = DECISIONS[action]
  const links = shown(context.interest.links)
  return {
    view: remedyView({
      id: action,
      title: `${verb} ${links}`,
      sentence,
      verified: 'Does not depend on the destination.',
      applies: true,
      undoable: true,
    }),
    apply: async (actor, request = {}) => {
      const wishes = wishesOf(context, 'destination', [], () => ({ standing, resumesAt: null }))
      await change(context, actor, wishes, action, request)
      return `${done} ${links}.`
    },
  }
}

const MAX_IN_VAIN = 3

/** Places that were tried and do not answer: nobody need try them again. */
const inVain = ({ target }: Context): ComposedRemedy[] =>
  (target.remedies?.failed ?? []).slice(0, MAX_IN_VAIN).map(({ destination, why }, index) => ({
    view: remedyView({ id: `in-vain-${index}`, title: 'Tried without success', sentence: why, destination }),
  }))
