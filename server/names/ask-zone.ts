import { hostOfName, isAtOrBelow, parentOf, proofName, typesWhere, type DnsName, type DnsRecord } from '../../core/dns'
import { plainRecord } from '../../core/dns/wire'
import { ask } from './ask'
import type { NamesContext } from './context'
import type { Discovered } from './discover'

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
    return { ok: true, records: withoutWildcards([...records.values()]), toldBy: `${server.name} (${server.address})` }
  }
  return {
    ok: false,
    sentence:
      silent.length > 0
        ? `None of the name servers of ${hostOfName(origin)} (${silent.join(', ')}) answers for it.`
        : `${hostOfName(origin)} has no name server that can be asked.`,
  }

  /**
   * Takes away what a wildcard made up: where `*` below the parent says the same as the name, the name itself is not
   * there.
   */
  function withoutWildcards(records: DnsRecord[]): DnsRecord[] {
    const parent = parentOf(name)
    if (parent === undefined || name === origin) return records
    const stars = records.filter((record) => record.name === `*.${parent}`)
    if (stars.length === 0) return records
    const madeUp = (own: DnsName) => {
      const types = new Set(records.filter((record) => record.name === own).map((record) => record.type))
      return [...types].every((type) => {
        const [mine, star] = [
          records.filter((record) => record.name === own && record.type === type),
          stars.filter((record) => record.type === type),
        ]
        return mine.length === star.length && mine.every((record) => star.some((other) => other.data === record.data))
      })
    }
    const gone = [name, proofName(name)].filter(madeUp)
    return records.filter((record) => !gone.includes(record.name))
  }
}
