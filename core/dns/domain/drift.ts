import { hostOfName, type DnsName } from '../name'
import { judgeSight, type Wanted } from './forecast'
import type { Observation } from './observation'

export type DomainCaseKind = 'record-gone' | 'address-changed' | 'cname-dangling' | 'one-server-changed' | 'caa-shuts-out' | 'server-lame' | 'resolver-late' | 'not-reached' | 'renewal-due'

/** Something wrong with an open domain, or about to be. */
export interface DomainTrouble {
  kind: DomainCaseKind
  /** What is concerned beside the domain: a record set, a server, a date. Makes the case's key with kind and domain. */
  subject: string
  severity: 'broken' | 'doubtful'
  /** One line, for the list. */
  headline: string
  /** What happened, whole. */
  sentence: string
  evidence: { label: string; text: string; state: 'sound' | 'doubtful' | 'broken' }[]
}

export interface DriftInput {
  name: DnsName
  /** The sets that point here. */
  pointing: readonly Wanted[]
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

const words = (observation: Observation) => (observation.status === 'answered' ? observation.data.join(', ') : observation.status === 'none' ? 'no such record' : observation.status === 'lame' ? 'knows nothing of the zone' : observation.status === 'refused' ? 'refuses to answer' : observation.status === 'failed' ? 'fails (SERVFAIL)' : 'no answer')
const listed = (names: readonly string[]) => (names.length < 2 ? names.join('') : `${names.slice(0, -1).join(', ')} and ${names.at(-1)}`)

/** What drifted on an open domain, by what its name servers and the resolvers were last seen to say (semantics §4). */
export function findDrift({ name, pointing, latest, targetExists, caa, everyoneBy, now }: DriftInput): DomainTrouble[] {
  const host = hostOfName(name)
  const found: DomainTrouble[] = []
  for (const wanted of pointing) {
    const asked = latest.filter((observation) => observation.name === wanted.name && observation.type === wanted.type)
    const authorities = asked.filter((observation) => observation.role === 'authority')
    const judged = authorities.map((observation) => ({ observation, state: judgeSight(wanted, observation) }))
    const said = judged.filter(({ state }) => state !== 'silent' && state !== 'faulty')
    const wrong = said.filter(({ state }) => state !== 'new')
    const subject = `${wanted.name} ${wanted.type}`
    const evidence = judged.map(({ observation, state }) => ({ label: observation.server, text: words(observation), state: state === 'new' ? ('sound' as const) : state === 'silent' || state === 'faulty' ? ('doubtful' as const) : ('broken' as const) }))
    const should = `It should have ${wanted.data.join(', ')}.`
    if (wrong.length > 0 && wrong.length < said.length) {
      const [bad, good] = [wrong.map(({ observation }) => observation.server), said.filter(({ state }) => state === 'new').map(({ observation }) => observation.server)]
      found.push({
        kind: 'one-server-changed', subject, severity: 'broken', evidence,
        headline: `${listed(bad)} gives other ${wanted.type} records`,
        sentence: `${listed(bad)} answers ${words(wrong[0]!.observation)} for the ${wanted.type} records of ${host}, while ${listed(good)} still ${good.length === 1 ? 'gives' : 'give'} the right ones: visitors are led here or elsewhere by chance. ${should}`,
      })
    } else if (wrong.length > 0) {
      const gone = wrong.every(({ state }) => state === 'absent')
      found.push({
        kind: gone ? 'record-gone' : 'address-changed', subject, severity: 'broken', evidence,
        headline: gone ? `The ${wanted.type} record is gone` : `The ${wanted.type} record was changed away`,
        sentence: gone
          ? `The name servers of ${host} no longer have its ${wanted.type} record: as soon as resolvers forget it, no short address on ${host} can be reached. ${should}`
          : `The name servers of ${host} now answer ${words(wrong[0]!.observation)} for ${wanted.type}: visitors are led there instead of here. ${should}`,
      })
    }
    if (wrong.length === 0 && everyoneBy !== undefined && now > everyoneBy) {
      for (const observation of asked.filter((candidate) => candidate.role === 'resolver' && ['old', 'absent'].includes(judgeSight(wanted, candidate)))) {
        found.push({
          kind: 'resolver-late', subject: `${subject} ${observation.server}`, severity: 'doubtful',
          headline: `${observation.server} still gives the old ${wanted.type} record`,
          sentence: `${observation.server} answers ${words(observation)} for the ${wanted.type} records of ${host}, although every name server gives the new ones and the old one’s time is up: it keeps answers longer than it may. Its users reach the old place until it lets go${observation.ttl === null ? '' : `, in ${observation.ttl} s by its own word`}.`,
          evidence: [{ label: observation.server, text: words(observation), state: 'doubtful' }, ...evidence],
        })
      }
    }
    if (wanted.type === 'CNAME' && targetExists === false && wrong.length === 0) {
      const target = hostOfName(wanted.data[0]!)
      found.push({
        kind: 'cname-dangling', subject, severity: 'broken', evidence: [{ label: target, text: 'no such name', state: 'broken' }, ...evidence],
        headline: 'The CNAME leads to a name that does not exist',
        sentence: `${host} is an alias of ${target}, and ${target} has no address any more: nobody reaches the gateway through it, and whoever registers that name could answer for ${host}.`,
      })
    }
  }
  if (caa && !caa.allowed) {
    found.push({
      kind: 'caa-shuts-out', subject: 'CAA', severity: 'doubtful', headline: 'CAA shuts the certificate issuer out', sentence: `${caa.sentence} The certificate served now goes on until it expires; the next one cannot be made.`,
      evidence: latest.filter((observation) => observation.type === 'CAA' && observation.status === 'answered').map((observation) => ({ label: observation.server, text: words(observation), state: 'broken' as const })),
    })
  }
  for (const server of new Set(latest.filter((observation) => observation.role === 'authority' && ['lame', 'refused'].includes(observation.status)).map((observation) => observation.server))) {
    const observation = latest.find((candidate) => candidate.server === server && ['lame', 'refused'].includes(candidate.status))!
    found.push({
      kind: 'server-lame', subject: server, severity: 'doubtful', headline: `The name server ${server} ${words(observation)}`,
      sentence: `The zone names ${server} as one of its name servers, but it ${words(observation)}: each visitor’s resolver that asks it first has to ask again elsewhere.`,
      evidence: [{ label: server, text: words(observation), state: 'broken' }],
    })
  }
  return found
}

/** The trouble of an open domain whose records are right while its gateway does not answer; `sentence` says what was met instead. */
export function unreached(name: DnsName, sentence: string, address: string | null): DomainTrouble {
  return {
    kind: 'not-reached', subject: 'http', severity: 'broken', headline: 'The name does not reach this gateway',
    sentence: `${sentence} It was tried twice. Visitors of short addresses on ${hostOfName(name)} get that instead of their page.`,
    evidence: [{ label: address === null ? 'HTTP' : `http://${hostOfName(name)}/ at ${address}`, text: sentence, state: 'broken' }],
  }
}

const LEAD_DAYS = [7, 30, 60] as const
const DAY_MS = 86_400_000

/** Whether a registration runs out within 60, 30 or 7 days. `expiresOn` is a date, YYYY-MM-DD. */
export function findRenewal(name: DnsName, expiresOn: string | null, registrar: string, now: number): DomainTrouble | undefined {
  if (expiresOn === null) return undefined
  const days = Math.floor((Date.parse(`${expiresOn}T00:00:00Z`) - Math.floor(now / DAY_MS) * DAY_MS) / DAY_MS)
  const lead = LEAD_DAYS.find((limit) => days <= limit)
  if (lead === undefined) return undefined
  const host = hostOfName(name)
  const when = days < 0 ? `ran out ${-days} ${days === -1 ? 'day' : 'days'} ago` : days === 0 ? 'runs out today' : `runs out in ${days} ${days === 1 ? 'day' : 'days'}`
  return {
    kind: 'renewal-due', subject: expiresOn, severity: days <= 7 ? 'broken' : 'doubtful', headline: `The registration ${when}`,
    sentence: `The registration of ${host} ${when}, on ${expiresOn}${registrar ? `, at ${registrar}` : ''}. When it lapses every address on it stops, and anybody may register the name.`,
    evidence: [{ label: 'Runs out', text: expiresOn, state: days <= 7 ? 'broken' : 'doubtful' }],
  }
}
