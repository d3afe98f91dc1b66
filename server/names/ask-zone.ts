import { hostOfName, isAtOrBelow, parentOf, proofName, typesWhere, type DnsName, type DnsRecord } from '../../core/dns'
import { plainRecord } from '../../core/dns/wire'
import { ask, type ServerAddress } from './ask'
import type { NamesContext } from './context'
import type { Discovered } from './discover'
import { answeredSet, isSynthesized } from './live-sets'

/** Types asked for at the name itself: what leads its visitors, what would be in the way, what is kept. */
const TYPES = typesWhere(({ asked }) => asked)
const WILDCARD_TYPES = typesWhere(({ asked }) => asked === 'name and wildcard')

export type AskedZone = { ok: true; records: DnsRecord[]; toldBy: string } | { ok: false; sentence: string }

/**
 * Reads what can be seen of a zone without having it: the top, the name itself, the wildcard that may answer for it
 * and CAA up the tree, from the first name server that answers. Not the whole zone, which only its owner can hand over.
 */
export async function askZone(
  names: NamesContext,
  found: Discovered,
  name: DnsName,
  pace?: () => Promise<void>,
): Promise<AskedZone> {
  const { origin } = found
  const questions: [DnsName, string][] = [
    [origin, 'SOA'],
    [origin, 'NS'],
    [origin, 'DNSKEY'],
    ...TYPES.map((type): [DnsName, string] => [name, type]),
    [proofName(name), 'TXT'],
  ]
  for (let at = parentOf(name); at !== undefined && at !== '.' && isAtOrBelow(at, origin); at = parentOf(at)) {
    questions.push([at, 'CAA'], ...WILDCARD_TYPES.map((type): [DnsName, string] => [`*.${at}`, type]))
    if (at === origin) break
  }
  const silent: string[] = []
  for (const server of found.servers) {
    const records = new Map<string, DnsRecord>()
    const way = names.way(server.address, 53)
    const first = await ask(way, origin, 'SOA', { pace })
    if (!first.ok || !first.message.aa) {
      silent.push(server.name)
      continue
    }
    for (const [at, type] of questions) {
      const answer = await ask(way, at, type, { pace })
      if (!answer.ok) continue
      // Only what stands at the name asked for: a wildcard's answer is given under the name asked, and is no record of
      // it.
      const stands = [...answer.message.answer, ...(type === 'NS' ? answer.message.authority : [])].filter(
        (record) => record.name === at && isAtOrBelow(record.name, origin),
      )
      for (const record of stands) records.set(`${record.name} ${record.type} ${record.data}`, plainRecord(record))
    }
    return {
      ok: true,
      records: await withoutWildcards(way, [...records.values()]),
      toldBy: `${server.name} (${server.address})`,
    }
  }
  return {
    ok: false,
    sentence:
      silent.length > 0
        ? `None of the name servers of ${hostOfName(origin)} (${silent.join(', ')}) answers for it.`
        : `${hostOfName(origin)} has no name server that can be asked.`,
  }

  /**
   * Takes away what a wildcard made up (RFC 4592): the name's own records where it does not exist itself, and those of
   * wildcards that are none, or that do not answer for the name because something nearer exists.
   */
  async function withoutWildcards(way: ServerAddress, records: DnsRecord[]): Promise<DnsRecord[]> {
    const made = new Set<DnsName>()
    const stars = [...new Set(records.map((record) => record.name).filter((owner) => owner.startsWith('*.')))]
    for (const owner of [name, proofName(name), ...stars]) {
      if (owner === origin) continue
      const [type] = records.filter((record) => record.name === owner).map((record) => record.type)
      const own = records.filter((record) => record.name === owner && record.type === type)
      if (type !== undefined && (await isSynthesized(way, { name: owner, type }, own, pace))) made.add(owner)
    }
    const exists = records.some((record) => [name, proofName(name)].includes(record.name) && !made.has(record.name))
    // The nearest real wildcard answers, unless the name is there, if only as the place above others.
    const nearest = stars.filter((star) => !made.has(star)).sort((a, b) => b.length - a.length)[0]
    const answers = nearest !== undefined && !exists && (await answersFor(way, nearest, records))
    return records.filter(
      (record) => !made.has(record.name) && (!record.name.startsWith('*.') || (answers && record.name === nearest)),
    )
  }

  async function answersFor(way: ServerAddress, star: DnsName, records: readonly DnsRecord[]): Promise<boolean> {
    const stands = records.filter((record) => record.name === star)
    const { type } = stands[0]!
    const own = (await answeredSet(way, { name, type }, pace)) ?? []
    const same = stands.filter((record) => record.type === type)
    return own.length === same.length && own.every(({ data }) => same.some((one) => one.data === data))
  }
}
