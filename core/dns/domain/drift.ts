import { dayWords } from '../../time/day-words'
import { hostOfName, type DnsName } from '../name'
import { judgeSight, type SightState, type Wanted } from './forecast'
import { STATUS_WORDS, type Observation } from './observation'
import { listed } from '../../text/listed'
import type { DomainTrouble } from './trouble'

export interface DriftInput {
  name: DnsName
  /** The sets that point here, as name servers must give them, and what visitors' resolvers are asked. */
  pointing: readonly Wanted[]
  visited: readonly Wanted[]
  /** The latest answer of each server to each question. */
  latest: readonly Observation[]
  /** Whether the name a CNAME leads to has an address; `undefined` where that was not asked or not answered. */
  targetExists?: boolean
  /** The verdict on the CAA records seen; `undefined` where they were not seen. */
  caa?: { allowed: boolean; sentence: string }
  /** Milliseconds: from when on every resolver should have the new answer. */
  everyoneBy?: number
  now: number
}

/** A name people read has no dot at its end. */
const plain = (data: string) => data.replace(/^((?:CNAME )?\S*[^\\\s])\.$/, '$1')
const words = (observation: Observation) =>
  observation.status === 'answered'
    ? observation.data.map(plain).join(', ')
    : observation.status === 'none'
      ? 'no such record'
      : STATUS_WORDS[observation.status]

type Item = DomainTrouble['evidence'][number]

/** A set that points here, with what each name server says of it. */
interface Judged {
  wanted: Wanted
  /** Name servers that answered, and those of them that do not give what is wanted. */
  said: { observation: Observation; state: SightState }[]
  wrong: { observation: Observation; state: SightState }[]
  evidence: Item[]
}

/** What drifted on an open domain, by what its name servers and the resolvers were last seen to say (semantics §4). */
export function findDrift({
  name,
  pointing,
  visited,
  latest,
  targetExists,
  caa,
  everyoneBy,
  now,
}: DriftInput): DomainTrouble[] {
  const host = hostOfName(name)
  const found: DomainTrouble[] = []
  const sets = pointing.map(judge)
  const broken = sets.filter((set) => set.wrong.length > 0)
  if (broken.length > 0) found.push(recordTrouble(host, broken))
  if (broken.length === 0 && everyoneBy !== undefined && now > everyoneBy) found.push(...visited.flatMap(lateResolvers))
  for (const { wanted, wrong, evidence } of sets) {
    if (broken.length > 0) break
    if (wanted.type === 'CNAME' && targetExists === false && wrong.length === 0) {
      const target = hostOfName(wanted.data[0]!)
      found.push({
        kind: 'cname-dangling',
        subject: target,
        severity: 'broken',
        evidence: [{ label: target, text: 'no such name', state: 'broken' }, ...evidence],
        headline: 'CNAME target does not exist',
        sentence:
          `${host} is an alias of ${target}, and ${target} has no address any more: no visitor reaches ` +
          `the gateway through it, and anyone who registers that name could answer for ${host}.`,
      })
    }
  }
  if (caa && !caa.allowed) {
    found.push({
      kind: 'caa-shuts-out',
      subject: 'CAA',
      severity: 'doubtful',
      headline: 'CAA blocks the certificate issuer',
      sentence: `${caa.sentence} The certificate served now goes on until it expires; the next one cannot be made.`,
      evidence: latest
        .filter((observation) => observation.type === 'CAA' && observation.status === 'answered')
        .map((observation) => ({ label: observation.server, text: words(observation), state: 'broken' as const })),
    })
  }
  for (const server of new Set(
    latest
      .filter((observation) => observation.role === 'authority' && ['lame', 'refused'].includes(observation.status))
      .map((observation) => observation.server),
  )) {
    const observation = latest.find(
      (candidate) => candidate.server === server && ['lame', 'refused'].includes(candidate.status),
    )!
    found.push({
      kind: 'server-lame',
      subject: server,
      severity: 'doubtful',
      headline: `The name server ${server} ${words(observation)}`,
      sentence:
        `The zone names ${server} as one of its name servers, but it ${words(observation)}: each visitor’s ` +
        'resolver that asks it first has to ask again elsewhere.',
      evidence: [{ label: server, text: words(observation), state: 'broken' }],
    })
  }
  return found

  function judge(wanted: Wanted): Judged {
    const judged = latest
      .filter(
        (observation) =>
          observation.role === 'authority' && observation.name === wanted.name && observation.type === wanted.type,
      )
      .map((observation) => ({ observation, state: judgeSight(wanted, observation) }))
    const said = judged.filter(({ state }) => state !== 'silent' && state !== 'faulty')
    const evidence = judged.map(({ observation, state }): Item => ({
      label: observation.server,
      text: `${wanted.type} ${words(observation)}`,
      state: state === 'new' ? 'sound' : said.some((one) => one.observation === observation) ? 'broken' : 'doubtful',
    }))
    return { wanted, said, wrong: said.filter(({ state }) => state !== 'new'), evidence }
  }

  /** Resolvers that keep the old answer longer than they may; one trouble for each and set. */
  function lateResolvers(wanted: Wanted): DomainTrouble[] {
    const late = latest.filter(
      (seen) =>
        seen.role === 'resolver' &&
        seen.name === wanted.name &&
        seen.type === wanted.type &&
        ['old', 'absent'].includes(judgeSight(wanted, seen)),
    )
    return late.map((observation) => ({
      kind: 'resolver-late',
      subject: `${wanted.name} ${wanted.type} ${observation.server}`,
      severity: 'doubtful',
      headline: `${observation.server} still gives the old ${wanted.type} record`,
      sentence:
        `${observation.server} answers ${words(observation)} for the ${wanted.type} records of ${host}, ` +
        'although every name server gives the new ones and the old one’s time is up: it keeps answers longer ' +
        'than it may. Its users reach the old place until it lets ' +
        `go${observation.ttl === null ? '' : `, in ${observation.ttl} s by its own word`}.`,
      evidence: [{ label: observation.server, text: words(observation), state: 'doubtful' }],
    }))
  }
}

/** The one trouble of a domain whose records are not all right: at one name server only, changed away, or gone. */
function recordTrouble(host: string, broken: readonly Judged[]): DomainTrouble {
  const types = listed(broken.map((set) => set.wanted.type))
  const records = `${types} record${broken.length > 1 ? 's' : ''}`
  const should =
    'It should have ' +
    `${broken.flatMap((set) => set.wanted.data.map((data) => `${set.wanted.type} ${plain(data)}`)).join(', ')}.`
  const evidence = broken.flatMap((set) => set.evidence)
  const servers = (list: Judged['said']) => [...new Set(list.map(({ observation }) => observation.server))].sort()
  const bad = servers(broken.flatMap((set) => set.wrong))
  const good = servers(broken.flatMap((set) => set.said)).filter((server) => !bad.includes(server))
  const base = { subject: host, severity: 'broken' as const, evidence }
  if (good.length > 0) {
    const instead = broken.map((set) => `${words(set.wrong[0]!.observation)} for ${set.wanted.type}`).join(' and ')
    return {
      ...base,
      kind: 'one-server-changed',
      headline: `${listed(bad)} ${bad.length === 1 ? 'gives' : 'give'} other ${types} records`,
      sentence:
        `${listed(bad)} ${bad.length === 1 ? 'answers' : 'answer'} ${instead} of ${host}, while ` +
        `${listed(good)} still ${good.length === 1 ? 'gives' : 'give'} the right ones: visitors are led here ` +
        `or elsewhere by chance. ${should}`,
    }
  }
  const changed = broken.filter((set) => set.wrong.some(({ state }) => state !== 'absent'))
  if (changed.length === 0) {
    return {
      ...base,
      kind: 'record-gone',
      headline: `The ${records} ${broken.length > 1 ? 'are' : 'is'} gone`,
      sentence:
        `The name servers of ${host} no longer have its ${records}: as soon as resolvers forget ` +
        `${broken.length > 1 ? 'them' : 'it'}, visitors find nothing there. ${should}`,
    }
  }
  const beside = broken.every(({ wanted, wrong }) =>
    wrong.every(
      ({ observation }) => wanted.data.length > 0 && wanted.data.every((data) => observation.data.includes(data)),
    ),
  )
  if (beside) return recordBeside(host, broken)
  const instead = changed
    .map((set) => `${words(set.wrong.find(({ state }) => state !== 'absent')!.observation)} for ${set.wanted.type}`)
    .join(' and ')
  return {
    ...base,
    kind: 'address-changed',
    headline: `The ${records} ${broken.length > 1 ? 'were' : 'was'} changed away`,
    sentence: `The name servers of ${host} now answer ${instead}: visitors are led there instead of here. ${should}`,
  }
}

/** The trouble of a domain that has the right records, and others beside them. */
function recordBeside(host: string, broken: readonly Judged[]): DomainTrouble {
  const further = broken.flatMap(({ wanted, wrong }) =>
    [...new Set(wrong.flatMap(({ observation }) => observation.data))]
      .filter((data) => !wanted.data.includes(data))
      .map((data) => `${wanted.type} ${plain(data)}`),
  )
  const right = broken.flatMap(({ wanted }) => wanted.data.map((data) => `${wanted.type} ${plain(data)}`))
  const one = further.length === 1
  return {
    kind: 'record-beside',
    subject: host,
    severity: 'broken',
    headline:
      `${listed(further)} ${one ? 'stands' : 'stand'} beside the right ` +
      `${right.length === 1 ? 'record' : 'records'}`,
    sentence:
      `The name servers of ${host} give the right ${listed(right)} and ${listed(further)} beside ` +
      `${right.length === 1 ? 'it' : 'them'}: visitors are led here or there by chance. Take ${listed(further)} out.`,
    evidence: [
      ...right.map((label): Item => ({ label, text: 'right', state: 'sound' })),
      ...further.map((label): Item => ({ label, text: 'not of this gateway', state: 'broken' })),
    ],
  }
}

/**
 * The trouble of an open domain whose records are right while its gateway does not answer; `sentence` says what was met
 * instead.
 */
export function unreached(name: DnsName, sentence: string, address: string | null): DomainTrouble {
  return {
    kind: 'not-reached',
    subject: 'http',
    severity: 'broken',
    headline: 'Domain does not reach this gateway',
    sentence:
      `${sentence} It was tried twice. Visitors of short addresses on ${hostOfName(name)} get that instead ` +
      'of their page.',
    evidence: [
      {
        label: address === null ? 'HTTP' : `http://${hostOfName(name)}/ at ${address}`,
        text: sentence,
        state: 'broken',
      },
    ],
  }
}

const LEAD_DAYS = [7, 30, 60] as const
const DAY_MS = 86_400_000

/** How many days there are to a day (YYYY-MM-DD), in UTC; negative where it is past. */
export const daysUntil = (day: string, now: number): number =>
  Math.floor((Date.parse(`${day}T00:00:00Z`) - Math.floor(now / DAY_MS) * DAY_MS) / DAY_MS)

/** Whether a registration runs out within 60, 30 or 7 days. `expiresOn` is a date, YYYY-MM-DD. */
export function findRenewal(
  name: DnsName,
  expiresOn: string | null,
  registrar: string,
  now: number,
): DomainTrouble | undefined {
  if (expiresOn === null) return undefined
  const days = daysUntil(expiresOn, now)
  const lead = LEAD_DAYS.find((limit) => days <= limit)
  if (lead === undefined) return undefined
  const host = hostOfName(name)
  const when =
    days < 0
      ? `ran out ${-days} ${days === -1 ? 'day' : 'days'} ago`
      : days === 0
        ? 'runs out today'
        : `expires in ${days} ${days === 1 ? 'day' : 'days'}`
  return {
    kind: 'renewal-due',
    subject: expiresOn,
    harmAt: Date.parse(expiresOn),
    severity: days <= 7 ? 'broken' : 'doubtful',
    headline: `The registration ${when}`,
    sentence:
      `The registration of ${host} ${when}, on ${dayWords(expiresOn)}${registrar ? `, at ${registrar}` : ''}. When ` +
      'it lapses every address on it stops, and anybody may register the name.',
    evidence: [{ label: 'Runs out', text: dayWords(expiresOn), state: days <= 7 ? 'broken' : 'doubtful' }],
  }
}
