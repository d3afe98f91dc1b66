import { Op } from 'sequelize'
import {
  applyMove,
  bestPages,
  chainEnd,
  indexPages,
  isFailure,
  judge,
  moveOf,
  moveWords,
  nearCandidates,
  OFFERED_FROM,
  resemblance,
  REMEDY_KINDS,
  supportedMoves,
  type Candidate,
  type FoundRemedies,
  type FoundRemedy,
  type MovedPair,
  type PageIndex,
} from '../../../core/targets'
import { checkDestination, type Checked } from '../../targets/check'
import { Busy, type Asker } from '../../targets/asker'
import type { TargetModel } from '../../database/models/target'
import type { Database } from '../../database/open'
import { sitePages } from './sitemap-pages'

/** Tried of each sort, and offered in all. */
const MOST_PAGES = 6
const MOST_OFFERS = 6
const MOST_EARLIER = 3
const MOST_SISTERS = 2000
/** Pages are compared with titles only where the first ones are near enough to it. */
const LEAST_SCORE = 0.25

/**
 * Finds where else a target’s visitors could go, and tries each place before it is offered: what does not answer as it
 * should is told as tried in vain. Ranked by how sure it is that it is meant.
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
    const fault = seen.ok ? sameAgain(target, seen.checked) : seen.why
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
  if (verdict && isFailure(verdict) && verdict !== 'parameters-lost' && verdict !== 'refused') {
    await bestOfSite(asker, target, attempt, offers, failed)
    for (const candidate of [...(await earlierCandidates(db, target)), ...nearCandidates(destination, verdict)])
      await offer(candidate)
  } else if (verdict === 'downgraded' || verdict === 'certificate')
    for (const candidate of nearCandidates(destination, verdict)) await offer(candidate)
  return {
    at: Date.now(),
    offers: offers.sort((a, b) => b.sureness - a.sureness).slice(0, MOST_OFFERS),
    failed: failed.slice(0, MOST_OFFERS),
  }
}

const GUESSES = new Set(['archive', 'host', 'parent'])
/** Two pages so alike are one. */
const SAME = 0.9

/** Why a place that answers is no better than what is there now; `undefined` where it is. */
function sameAgain({ evidence }: TargetModel, { evidence: found }: Checked): string | undefined {
  const [now, then] = [evidence?.page, found.page]
  if (!now || !then || now.words === 0 || now.sketch.length === 0) return undefined
  return resemblance(now.sketch, then.sketch) >= SAME ? 'It shows the very same page as now.' : undefined
}

type Tried =
  | { ok: true; final: string; why: string; title: string; checked: Checked }
  | { ok: false; why: string; checked?: Checked }

/** Asks for a place as a visitor would; sound where a visitor who comes there arrives. */
async function tryOut(asker: Asker, to: string): Promise<Tried> {
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

/** The best pages of the target’s own site: by its sitemap, and by the links of the page that is shown instead. */
async function bestOfSite(
  asker: Asker,
  target: TargetModel,
  attempt: (to: string) => Promise<Tried>,
  offers: FoundRemedy[],
  failed: FoundRemedies['failed'],
): Promise<void> {
  const origin = new URL(target.destination).origin
  const lost = { url: target.destination, title: target.title }
  const { pages, from } = await sitePages(asker, origin).catch(() => ({ pages: [], from: '' }))
  const links = (await linksInstead(asker, target)).filter((url) => url.startsWith(`${origin}/`))
  for (const [kind, addresses, why] of [
    ['sitemap', pages, `From the site’s sitemap (${from})`],
    ['own-links', links, 'Linked from the page that is shown instead'],
  ] as const) {
    if (addresses.length === 0) continue
    const index = indexPages(addresses.map((url) => ({ url })))
    const near = bestPages(lost, index, { least: LEAST_SCORE, most: MOST_PAGES })
    const seen = await Promise.all(near.map(async ({ page }) => ({ url: page.url, tried: await attempt(page.url) })))
    for (const { url, tried } of seen) if (!tried.ok) failed.push({ destination: url, why: tried.why })
    // With their titles at hand, the same pages are compared once more.
    const titled = seen.flatMap(({ url, tried }) => (tried.ok ? [{ url, title: tried.title, tried }] : []))
    for (const { page, score } of rankAgain(lost, index, titled)) {
      if (score < OFFERED_FROM) continue
      const { tried } = titled.find(({ url }) => url === page.url)!
      if (offers.some((one) => one.destination === tried.final)) continue
      offers.push({
        kind,
        destination: tried.final,
        why: `${why}: name match ${score.toFixed(2)}.`,
        verified: tried.why,
        title: tried.title,
        sureness: REMEDY_KINDS[kind].sureness * score,
      })
    }
  }
}

/** The same pages with their titles, weighed as among all pages of the site. */
function rankAgain(lost: { url: string; title?: string }, whole: PageIndex, titled: { url: string; title: string }[]) {
  const index = indexPages(titled)
  return bestPages(lost, { ...index, weigh: whole.weigh }, { least: 0 })
}

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
  return [...found].slice(0, MOST_EARLIER).map(([to, at], index) => ({
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
    limit: MOST_SISTERS,
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
    attributes: ['destination'],
    where: { destination: changed.map(({ to }) => to), confidence: 'sound' },
  })
  const answers = new Set(sound.map(({ destination }) => destination))
  return changed.filter(({ to }) => answers.has(to))
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
  const rows = await db.Target.findAll({ where: { host, confidence: ['doubtful', 'broken'] }, limit: MOST_SISTERS })
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
