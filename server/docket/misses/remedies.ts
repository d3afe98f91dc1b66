import { QueryTypes } from 'sequelize'
import { showHost } from '../../../core/address'
import { forgive, NearSlugs, type Mend } from '../../../core/table'
import type { RemedyRequest } from '../../../core/schemas'
import type { DocketCaseModel } from '../../database/models/docket-case'
import type { MissModel } from '../../database/models/miss'
import type { Database } from '../../database/open'
import { currentSurvey } from '../../usecases/conflicts/survey'
import { domainState, writeDomain } from '../../usecases/domains/change-domain'
import { findDomain } from '../../usecases/domains/find-domain'
import { runChange, type Actor } from '../../usecases/ledger/change'
import { decideMiss, type Decision } from '../../usecases/misses/decide-miss'
import { findMiss } from '../../usecases/misses/find-miss'
import { remedyView, type ComposedRemedy } from '../remedy'
import { inOneChange, would, type Context } from './context'
import { familyRemedies } from './family-remedies'
import { missOf } from './subject'

const SWITCHES = { punctuation: 'mendPunctuation', capitals: 'mendCapitals', 'look-alikes': 'mendLookAlikes' } as const
const SWITCH_WORDS: Record<Mend, string> = {
  punctuation: 'text punctuation at the end',
  capitals: 'capitals',
  'look-alikes': 'look-alike characters',
}
/** Links less likely than this are not offered to lead to. */
const MIN_OFFERED = 0.05

/** The remedies of a miss's or a family's case, worked out and tried on the register as it stands; the best first. */
export async function missRemedies(db: Database, row: DocketCaseModel): Promise<ComposedRemedy[]> {
  if (row.domainId === null) return []
  const context: Context = { db, row, domain: await findDomain(db, row.domainId) }
  if (row.kind === 'missed-family') return familyRemedies(context)
  const miss = await missOf(db, row)
  if (!miss || miss.answered) return []
  const gone = miss.linkId !== null
  return [
    ...(gone ? [back(context, miss)] : aliases(context, miss)),
    ...(gone ? [] : await switches(context, miss)),
    ...(gone ? [] : [anew(context, miss), markGone(context, miss)]),
    noise(context, miss, 'noise'),
    ...(miss.shape === miss.path ? [] : [noise(context, miss, 'noise-shape')]),
    ...(await referring(context, miss)),
  ]
}

/** What carries a decision about a miss out, from its case. */
const deciding =
  ({ db, row }: Context, miss: MissModel, decision: Omit<Decision, 'reason'>): NonNullable<ComposedRemedy['apply']> =>
  (actor: Actor, request: RemedyRequest = {}) =>
    runChange(
      db,
      actor,
      async (change) =>
        decideMiss(db, change, await findMiss(db, miss.id, change), {
          ...decision,
          destination: request.destination ?? decision.destination,
          reason: request.reason || `From the docket: ${row.headline}`,
        }),
      { surveyed: true },
    )

function aliases(context: Context, miss: MissModel): ComposedRemedy[] {
  const here = `${showHost(context.domain.host)}/${miss.path}`
  return (miss.ranking?.candidates ?? [])
    .filter(({ live, probability }, rank) => live && (rank === 0 || probability >= MIN_OFFERED))
    .slice(0, 3)
    .map((candidate) => ({
      view: remedyView({
        id: `alias-${candidate.link}`,
        title: `Add as a slug of ${candidate.address}`,
        sentence: `${here} leads where ${candidate.address} does, for as long as that link lives.`,
        destination: candidate.destination,
        verified: would(miss.visitors28),
        applies: true,
        undoable: true,
        visitsKept: Number(context.row.impact),
      }),
      apply: deciding(context, miss, { decision: 'alias', link: candidate.link }),
    }))
}

function back(context: Context, miss: MissModel): ComposedRemedy {
  return {
    view: remedyView({
      id: 'back',
      title: 'Restore the link',
      sentence: 'It becomes live again and leads where it led. See first whether that page is still right.',
      verified: would(miss.visitors28),
      applies: true,
      undoable: true,
      to: `/links/${miss.linkId}`,
      visitsKept: Number(context.row.impact),
    }),
    apply: deciding(context, miss, { decision: 'back' }),
  }
}

/** The parts of forgiveness that would mend this address, each tried on the table; with what else each would mend. */
async function switches(context: Context, miss: MissModel): Promise<ComposedRemedy[]> {
  const { db, domain } = context
  const part = (await currentSurvey(db)).state.table.domains.get(domain.id)
  if (!part) return []
  const others = await db.Miss.findAll({
    attributes: ['path', 'visitors28'],
    where: { domainId: domain.id, answered: false, noise: null, linkId: null },
    order: [['visitors28', 'DESC']],
    limit: 2000,
  })
  const offers: ComposedRemedy[] = []
  for (const mend of Object.keys(SWITCHES) as Mend[]) {
    const key = mend === 'look-alikes' ? 'lookAlikes' : mend
    if (part.domain.forgiveness[key]) continue
    const forgiveness = { ...part.domain.forgiveness, [key]: true }
    const asIf = {
      ...part,
      domain: { ...part.domain, forgiveness },
      near: new NearSlugs(forgiveness, part.links.keys()),
    }
    const mends = (path: string) => forgive(asIf, path, Date.now())
    const verdict = mends(miss.path)
    if (verdict?.verdict !== 'mended' || verdict.by !== mend) continue
    const all = others.filter(({ path }) => mends(path)?.verdict === 'mended')
    const served = all.reduce((sum, { visitors28 }) => sum + visitors28, 0)
    offers.push({
      view: remedyView({
        id: `forgive-${mend}`,
        title: `Correct ${SWITCH_WORDS[mend]} on ${domain.host}`,
        sentence:
          `Requests that differ only in this are redirected, temporarily, to the only possible link. ` +
          'It would correct ' +
          `${all.length === 1 ? 'this address alone' : `${all.length} of the requested addresses that do not exist`}.`,
        verified: would(served),
        applies: true,
        undoable: true,
        visitsKept: Math.max(Number(context.row.impact), Math.round((served / 28) * 100) / 100),
      }),
      apply: (actor, request = {}) =>
        inOneChange(context, actor, async (change) => {
          const fresh = await findDomain(db, domain.id, change.transaction)
          const before = domainState(fresh)
          const after = { ...before, [SWITCHES[mend]]: true }
          await writeDomain(db, change, fresh, after)
          await change.record({
            action: 'change',
            subject: { kind: 'domain', id: domain.id, label: domain.host },
            reason: request.reason || `From the docket: ${context.row.headline}`,
            before,
            after,
          })
          return `${domain.host} now corrects ${SWITCH_WORDS[mend]}.`
        }),
    })
  }
  return offers
}

const anew = (context: Context, miss: MissModel): ComposedRemedy => ({
  view: remedyView({
    id: 'link',
    title: 'Create a link',
    sentence: 'Use this if the page exists but has no short address.',
    verified: would(miss.visitors28),
    applies: true,
    undoable: true,
    asks: ['destination'],
    visitsKept: Number(context.row.impact),
  }),
  apply: deciding(context, miss, { decision: 'link' }),
})

const markGone = (context: Context, miss: MissModel): ComposedRemedy => ({
  view: remedyView({
    id: 'gone',
    title: 'Mark as gone (410)',
    sentence: 'Visitors get 410 (Gone), and search engines drop the address. The slug is reserved.',
    verified: 'Does not depend on a destination.',
    applies: true,
    undoable: true,
  }),
  apply: deciding(context, miss, { decision: 'gone' }),
})

const noise = (context: Context, miss: MissModel, decision: 'noise' | 'noise-shape'): ComposedRemedy => ({
  view: remedyView({
    id: decision,
    title: decision === 'noise' ? 'Mark as noise' : `Mark everything like /${miss.shape} as noise`,
    sentence: 'Hidden from the list and still counted. Can be undone.',
    verified: 'No change for visitors.',
    applies: true,
    undoable: true,
  }),
  apply: deciding(context, miss, { decision }),
})

/** Pages that carry the wrong address: their owners can be told. */
async function referring({ db }: Context, miss: MissModel): Promise<ComposedRemedy[]> {
  const [row] = await db.sequelize.query<{ pages: number; requests: string | null }>(
    'SELECT COUNT(*) AS pages, SUM(requests) AS requests FROM miss_referrer WHERE miss_id = :id',
    { replacements: { id: miss.id }, type: QueryTypes.SELECT },
  )
  const pages = Number(row?.pages ?? 0)
  if (pages === 0) return []
  return [
    {
      view: remedyView({
        id: 'tell',
        title:
          pages === 1 ? 'Notify the owner of the referring page' : `Tell the owners of ${pages} pages that carry it`,
        sentence: `${Number(row!.requests).toLocaleString('en')} requests came from there; a letter is ready for each.`,
        to: `/misses?miss=${miss.id}`,
      }),
    },
  ]
}
