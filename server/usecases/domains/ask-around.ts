import {
  judgeSight,
  nameOfHost,
  parentOf,
  serverLabel,
  type DnsName,
  type Observation,
  type SightQuestions,
} from '../../../core/dns'
import type { KnownServer } from '../../database/models/domain-watch'
import { ask, type ServerAddress } from '../../names/ask'
import type { NamesContext } from '../../names/context'
import { observe, type Question } from '../../names/observe'
import { zoneServers } from './domain-overview'

export interface AskAround {
  host: string
  origin: DnsName | null
  servers: readonly KnownServer[]
  questions: SightQuestions
  /** Of a domain long open less is asked: ownership and what went are of no interest any more. */
  light: boolean
  pace?: () => Promise<void>
}

const unique = (questions: readonly Question[]) => [
  ...new Map(questions.map((question) => [`${question.name} ${question.type}`, question])).values(),
]

/**
 * Asks every name server of the zone and every resolver at once: the records that point here, and of each address of
 * a name server the SOA. An address this machine has no way to is passed over: its silence would say nothing.
 */
export async function askAround(
  names: NamesContext,
  { host, origin, servers, questions, light, pace }: AskAround,
): Promise<Observation[]> {
  const name = nameOfHost(host)
  const climb: Question[] = []
  if (names.gateway.issuers.length > 0)
    for (let at: DnsName | undefined = name; at !== undefined && at !== '.'; at = parentOf(at))
      climb.push({ name: at, type: 'CAA' })
  const put = (role: Observation['role'], server: string, way: ServerAddress, list: readonly Question[]) =>
    unique(list).map(async (question) => {
      const asked = await ask(way, question.name, question.type, { recursive: role === 'resolver', pace })
      if (!asked.ok && asked.reason === 'no-route') return []
      return [observe(asked, role, server, question, Date.now())]
    })
  const soa: Question[] = origin === null ? [] : [{ name: origin, type: 'SOA' }]
  const atServers = zoneServers(servers).flatMap((server) =>
    server.addresses.map(async (address, index) => {
      const label = serverLabel(server, address)
      const way = names.way(address, 53)
      const once = (list: readonly Question[]) => Promise.all(put('authority', label, way, list))
      if (index > 0) return (await once(soa)).flat()
      const seen = (
        await once([
          ...soa,
          ...questions.authority,
          ...(light ? [] : [questions.proof, ...questions.old, ...questions.visited]),
        ])
      ).flat()
      // Where the alias is not what it should be, what stands there instead is held for a time of its own.
      const other = questions.authority.some((set) =>
        seen.some((each) => each.type === set.type && ['old', 'absent'].includes(judgeSight(set, each))),
      )
      return light && other ? [...seen, ...(await once(questions.visited)).flat()] : seen
    }),
  )
  const atResolvers = names.resolvers.flatMap((resolver, index) =>
    put('resolver', resolver.name, resolver, [
      ...questions.resolver,
      ...(light ? [] : [questions.proof]),
      ...(index === 0 ? climb : []),
    ]),
  )
  return (await Promise.all([...atServers, ...atResolvers])).flat()
}
