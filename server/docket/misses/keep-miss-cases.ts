import { Op } from 'sequelize'
import { showHost } from '../../../core/address'
import { visible, type Family } from '../../../core/misses'
import type { MissModel } from '../../database/models/miss'
import type { Database } from '../../database/open'
import { familiesAmong } from '../../usecases/misses/family-of'
import { reconcileCases, type Finding } from '../keeper'
import { familyKey, missKey } from './keys'

/** Visitors in 28 days from which a miss becomes a case: fewer where it is clear what was meant. */
const MIN_VISITORS = { likely: 2, unclear: 3, gone: 5, family: 6 }
const LIKELY = 0.5
/** Cases kept at most; more are seen in the view of all misses. */
const MAX_CASES = 300
const MAX_READ = 5000
const DAY_MS = 86_400_000
const DAYS = 28

/** Visitors a day since it was first asked for, over at most 28 days. */
const aDay = (visitors: number, since: Date, now: Date): number =>
  Math.round((visitors / Math.min(DAYS, Math.max(1, (now.getTime() - since.getTime()) / DAY_MS))) * 100) / 100

/** Brings the lane in line with what is asked for in vain: a case for each miss or family that is worth a decision. */
export async function keepMissCases(db: Database, now = new Date()): Promise<void> {
  const [misses, domains, there] = await Promise.all([
    db.Miss.findAll({
      where: { answered: false, noise: null, visitors28: { [Op.gt]: 0 } },
      order: [
        ['visitors28', 'DESC'],
        ['id', 'ASC'],
      ],
      limit: MAX_READ,
    }),
    db.Domain.findAll({ attributes: ['id', 'host'] }),
    db.DocketCase.findAll({ where: { lane: 'misses' } }),
  ])
  const hosts = new Map(domains.map(({ id, host }) => [id, showHost(host)]))
  const findings: Finding[] = []
  const inFamilies = new Set<number>()
  for (const domainId of new Set(misses.map((miss) => miss.domainId))) {
    const own = misses.filter((miss) => miss.domainId === domainId && miss.linkId === null)
    const byPath = new Map(own.map((miss) => [miss.path, miss]))
    for (const family of familiesAmong(own)) {
      // Where nothing tells where a rule would lead, each stands for itself.
      if (family.destination === null || family.visitors < MIN_VISITORS.family) continue
      const members = family.members.map(({ path }) => byPath.get(path)!)
      for (const { id } of members) inFamilies.add(id)
      findings.push(familyFinding(family, members, hosts.get(domainId) ?? '', domainId, now))
    }
  }
  for (const miss of misses) {
    const likely = Number(miss.likely) >= LIKELY
    // What ended is asked for a while yet; what stays asked for is worth a thought.
    const least = MIN_VISITORS[miss.linkId !== null ? 'gone' : likely ? 'likely' : 'unclear']
    if (inFamilies.has(miss.id) || miss.visitors28 < least) continue
    findings.push(missFinding(miss, hosts.get(miss.domainId) ?? '', now))
  }
  findings.sort((a, b) => b.impact - a.impact || (a.key < b.key ? -1 : 1))
  // One beyond the most important that has its case already keeps it: it would settle and reopen with every visit.
  const open = new Set(there.filter(({ state }) => state !== 'settled').map(({ caseKey }) => caseKey))
  await reconcileCases(
    db,
    findings.filter(({ key }, index) => index < MAX_CASES || open.has(key)),
    // What lies beyond those read was not judged.
    { there, now, wasObservable: () => misses.length < MAX_READ },
  )
}

const percent = (share: number) => (share >= 0.995 ? 'over 99%' : `${Math.round(share * 100)}%`)
const people = (count: number) => (count === 1 ? 'One visitor' : `${count.toLocaleString('en')} visitors`)
const day = (date: Date) => date.toISOString().slice(0, 10)

function missFinding(miss: MissModel, host: string, now: Date): Finding {
  const address = visible(`${host}/${miss.path}`)
  const [first, second] = miss.ranking?.candidates ?? []
  const likely = first !== undefined && first.probability >= LIKELY && miss.linkId === null
  const gone = miss.linkId !== null
  const asked =
    `${people(miss.visitors28)} requested it in the last ${DAYS} days, first on ${day(miss.firstAt)}, ` +
    `last on ${day(miss.lastAt)}.`
  const meaning = gone
    ? 'A link existed there; visitors now get 410 (Gone).'
    : likely
      ? `It is ${percent(first.probability)} likely that ${first.address} was meant: ` +
        `${first.because.join(', ') || 'the same words'}.`
      : first && first.probability >= 0.2
        ? `Perhaps ${first.address} was meant (${percent(first.probability)})` +
          `${second && second.probability >= 0.2 ? `, or ${second.address} (${percent(second.probability)})` : ''}.`
        : 'No similar link exists.'
  const followed = Object.entries(miss.followed).sort((a, b) => b[1] - a[1])[0]
  return {
    kind: gone ? 'gone-asked-for' : likely ? 'mistyped-address' : 'unmet-demand',
    key: missKey(miss),
    domainId: miss.domainId,
    linkId: likely ? first.link : miss.linkId,
    links: likely ? [first.link] : gone ? [miss.linkId!] : [],
    subject: address,
    severity: 'broken',
    headline: gone
      ? 'Gone, but still requested'
      : likely
        ? `Probably meant: ${first.address}`
        : 'Requested but not found',
    sentence: `${asked} ${meaning}`,
    evidence: [
      ...(miss.ranking?.candidates ?? []).slice(0, 3).map((one) => ({
        label: one.address,
        text: `${percent(one.probability)}${one.because.length > 0 ? `: ${one.because.join(', ')}` : ''}`,
        state: one.live ? ('sound' as const) : ('doubtful' as const),
      })),
      ...(followed && first && Number(followed[0]) === first.link
        ? [
            {
              label: 'Next',
              text: `${people(followed[1])} found ${first.address} within ten minutes`,
              state: 'sound' as const,
            },
          ]
        : []),
    ],
    impact: aDay(miss.visitors28, miss.firstAt, now),
    harmAt: null,
    print: null,
    conflict: null,
  }
}

function familyFinding(
  family: Family,
  members: readonly MissModel[],
  host: string,
  domainId: number,
  now: Date,
): Finding {
  const since = new Date(Math.min(...members.map(({ firstAt }) => firstAt.getTime())))
  return {
    kind: 'missed-family',
    key: familyKey({ domainId, shape: family.shape }),
    domainId,
    linkId: null,
    links: members.flatMap((miss) => miss.ranking?.candidates[0]?.link ?? []),
    subject: visible(`${host}/${family.shape}`),
    severity: 'broken',
    headline: 'One rule would match all of them',
    sentence:
      `${people(family.visitors)} requested ${members.length} addresses of one pattern that do not exist, first on ` +
      `${day(since)}. ` +
      `The rule ${family.pattern} would lead them to ${family.destination}.`,
    evidence: members.slice(0, 12).map((miss) => ({
      label: visible(`${host}/${miss.path}`),
      text:
        people(miss.visitors28) +
        (Number(miss.likely) >= LIKELY ? `; means ${miss.ranking!.candidates[0]!.address}` : ''),
      state: 'broken' as const,
    })),
    impact: aDay(family.visitors, since, now),
    harmAt: null,
    print: null,
    conflict: null,
  }
}
