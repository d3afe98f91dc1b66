import { Op } from 'sequelize'
import {
  applyMove,
  chainEnd,
  endCandidates,
  isFailure,
  moveOf,
  moveWords,
  nearCandidates,
  REMEDY_KINDS,
  supportedMoves,
  type Candidate,
  type FoundRemedies,
  type FoundRemedy,
  type MovedPair,
} from '../../../core/targets'
import { checkDestination } from '../../targets/check'
import type { Asker } from '../../targets/asker'
import type { TargetModel } from '../../database/models/target'
import type { Database } from '../../database/open'
import { destinationHash } from '../links/link-state'
import { pagesInstead } from './pages-instead'
import { sameAgain, tryOut, type Tried } from './try-out'

/** Offered in all, and tried of each sort. */
const MAX_OFFERS = 6
const MAX_EARLIER = 3
const MAX_SISTERS = 2000

/**
 * Finds where else a target’s visitors could go, and tries each place before it is offered: what does not answer as it
 * should is reported as tried without success. Ranked by how sure it is that it is meant.
 */
export async function findRemedies(db: Database, asker: Asker, target: TargetModel): Promise<FoundRemedies> {
  const { destination, verdict, evidence } = target
  const tried = new Map<string, Promise<Tried>>()
  const attempt = (to: string) => {
    const known = tried.get(to)
    if (known) return known
    const asked = tryOut(asker, to)
    tried.set(to, asked)
    return asked
  }
  const offers: FoundRemedy[] = []
  const failed: FoundRemedies['failed'] = []
  const offer = async (candidate: Candidate) => {
    const seen = await attempt(candidate.destination)
    const fault = seen.ok ? sameAgain(target.evidence, seen.checked) : seen.why
    if (!seen.ok || fault) {
      // Mere guesses that fail tell nobody anything.
      if (fault && !GUESSES.has(candidate.kind)) failed.push({ destination: candidate.destination, why: fault })
      return
    }
    if (seen.final === destination || offers.some((one) => one.destination === seen.final)) return
    offers.push({ ...candidate, destination: seen.final, verified: seen.why, title: seen.title })
  }
  const chain = evidence && chainEnd(evidence)
  if (chain) await offer(chain)
  for (const candidate of await sisterCandidates(db, target)) await offer(candidate)
  if (verdict && isFailure(verdict) && evidence && !ARRIVED.has(verdict)) {
    const lost = { url: destination, title: target.title, links: await linksInstead(asker, target) }
    const instead = await pagesInstead(asker, lost, attempt)
    offers.push(...instead.offers.filter((one) => !offers.some(({ destination: to }) => to === one.destination)))
    failed.push(...instead.failed)
    for (const candidate of [...(await earlierCandidates(db, target)), ...nearCandidates(destination, verdict)])
      await offer(candidate)
  } else if (evidence) for (const candidate of endCandidates(evidence)) await offer(candidate)
  return {
    at: Date.now(),
    offers: offers.sort((a, b) => b.sureness - a.sureness).slice(0, MAX_OFFERS),
    failed: failed.slice(0, MAX_OFFERS),
  }
}

/** Where the page is reached, or nobody can tell: another page would be no remedy. */
const ARRIVED = new Set<string>(['parameters-lost', 'downgraded', 'refused'])
const GUESSES = new Set(['archive', 'host', 'parent'])

/** Links of the page a visitor is shown now. */
async function linksInstead(asker: Asker, target: TargetModel): Promise<string[]> {
  if (!['not-found', 'soft-not-found', 'front-page'].includes(target.verdict ?? '')) return []
  const checked = await checkDestination(asker, target.destination, { alone: true }).catch(() => undefined)
  return [...new Set(checked?.links.map(({ url }) => url.split('#')[0]!) ?? [])]
}

/** Where the links that lead here led before, by the ledger. */
async function earlierCandidates(db: Database, target: TargetModel): Promise<Candidate[]> {
  const links = await db.Link.findAll({ attributes: ['id'], where: { destinationHash: target.hash }, limit: 50 })
  const entries = await db.LedgerEntry.findAll({
    where: {
      subjectKind: 'link',
      subjectId: links.map(({ id }) => id),
      action: { [Op.in]: ['change-destination', 'change', 'undo'] },
    },
    order: [['id', 'DESC']],
    limit: 50,
  })
  const found = new Map<string, Date>()
  for (const entry of entries) {
    const before = entry.beforeState?.destination
    if (typeof before === 'string' && before !== target.destination && /^https?:/.test(before) && !found.has(before))
      found.set(before, entry.at)
  }
  return [...found].slice(0, MAX_EARLIER).map(([to, at], index) => ({
    kind: 'earlier',
    destination: to,
    why: `Where it led until ${at.toISOString().slice(0, 10)}.`,
    sureness: REMEDY_KINDS.earlier.sureness - index * 0.05,
  }))
}

/** Where this host’s other addresses went that moved: by the same move, this one. */
async function sisterCandidates(db: Database, target: TargetModel): Promise<Candidate[]> {
  return (await movesOf(db, target.host)).flatMap(({ move, pairs }) => {
    const to = applyMove(move, target.destination)
    if (to === undefined || to === target.destination) return []
    const sisters = pairs.filter(({ from }) => from !== target.destination).length
    if (sisters < 3) return []
    const [from, now] = moveWords(move)
    return [
      {
        kind: 'sister-move' as const,
        destination: to,
        why: `${sisters} others of this host moved from ${from} to ${now} and answer there.`,
        sureness: REMEDY_KINDS['sister-move'].sureness,
        move: { move, sisters },
      },
    ]
  })
}

/** How addresses of a host moved: by permanent redirects seen, by remedies tried, and by links already changed. */
export async function movesOf(db: Database, host: string): Promise<ReturnType<typeof supportedMoves>> {
  const rows = await db.Target.findAll({
    attributes: ['destination', 'verdict', 'final', 'remedies'],
    where: { host, [Op.or]: [{ verdict: 'moved-permanently' }, { remedies: { [Op.ne]: null } }] },
    limit: MAX_SISTERS,
  })
  const pairs: MovedPair[] = rows.flatMap(({ destination, verdict, final, remedies }) => {
    if (verdict === 'moved-permanently' && final) return [{ from: destination, to: final }]
    const best = remedies?.offers.find(({ kind }) => kind === 'sitemap' || kind === 'own-links' || kind === 'chain-end')
    return best ? [{ from: destination, to: best.destination }] : []
  })
  return supportedMoves([...pairs, ...(await changedPairs(db, host))])
}

/** Destinations of this host that people changed lately to where the target answers. */
async function changedPairs(db: Database, host: string): Promise<MovedPair[]> {
  const entries = await db.LedgerEntry.findAll({
    attributes: ['beforeState', 'afterState'],
    where: {
      subjectKind: 'link',
      action: 'change-destination',
      at: { [Op.gt]: new Date(Date.now() - 30 * 86_400_000) },
    },
    order: [['id', 'DESC']],
    limit: 500,
  })
  const changed = entries.flatMap(({ beforeState, afterState }) => {
    const [from, to] = [beforeState?.destination, afterState?.destination]
    return typeof from === 'string' && typeof to === 'string' && isOf(from, host) ? [{ from, to }] : []
  })
  if (changed.length === 0) return []
  const sound = await db.Target.findAll({
    attributes: ['hash'],
    where: { hash: changed.map(({ to }) => destinationHash(to)), confidence: 'sound' },
  })
  const answers = new Set(sound.map(({ hash }) => hash))
  return changed.filter(({ to }) => answers.has(destinationHash(to)))
}

const isOf = (url: string, host: string) => {
  try {
    return new URL(url).hostname === host
  } catch {
    return false
  }
}

/** Failing targets of a host that a move explains, with where it takes each. */
export async function explainedBy(
  db: Database,
  host: string,
  move: Parameters<typeof applyMove>[0],
): Promise<{ target: TargetModel; to: string }[]> {
  const rows = await db.Target.findAll({ where: { host, confidence: ['doubtful', 'broken'] }, limit: MAX_SISTERS })
  return rows.flatMap((target) => {
    const to = applyMove(move, target.destination)
    return to === undefined ? [] : [{ target, to }]
  })
}

/** Sisters looked for longer ago than this are looked for again when a move shows. */
const AGAIN_MS = 10 * 60_000

/** Has sisters looked for again that the move of a target just found may explain. */
export async function lookAgain(db: Database, target: TargetModel, { offers }: FoundRemedies): Promise<void> {
  const best = offers.find(({ kind }) => kind === 'sitemap' || kind === 'own-links')
  const move = best && moveOf({ from: target.destination, to: best.destination })
  if (!move) return
  await db.Target.update(
    { remediesDue: true },
    {
      where: {
        host: target.host,
        id: { [Op.ne]: target.id },
        confidence: ['doubtful', 'broken'],
        destination: { [Op.like]: `${move.fromStart.replace(/[\\%_]/g, '\\$&')}%` },
        remediesAt: { [Op.lt]: new Date(Date.now() - AGAIN_MS) },
      },
    },
  )
}
