import type { DnsName, DnsRecord, Observation, SigningSeen, Wanted } from '../../core/dns'
import { ask } from './ask'
import type { NamesContext } from './context'

export interface SigningQuestion {
  origin: DnsName
  /** Where each name server is asked, under the name observations have for it. */
  servers: readonly { label: string; address: string }[]
  /** What visitors' resolvers ask, and what this look saw them answer. */
  asked: readonly Wanted[]
  seen: readonly Observation[]
  pace?: () => Promise<void>
}

/**
 * Sees how a zone is signed: its DS at the parent through a resolver, its keys and signatures at its name servers, and
 * for each resolver that fails for its name whether it answers where it must not check (CD, RFC 4035 §3.2.2).
 * `undefined` where no resolver tells whether the parent has a DS record.
 */
export async function seeSigning(
  names: NamesContext,
  { origin, servers, asked, seen, pace }: SigningQuestion,
): Promise<SigningSeen | undefined> {
  // One that said nothing in this look is not waited for again.
  const answering = names.resolvers.filter(({ name }) =>
    seen.some((each) => each.role === 'resolver' && each.server === name && each.status !== 'silent'),
  )
  const ds = await dsOf()
  if (ds === undefined) return undefined
  const view = { ds, keys: undefined as DnsRecord[] | undefined, sets: [] as SigningSeen['sets'][number][] }
  if (ds.length > 0) {
    for (const { label, address } of servers) {
      const way = names.way(address, 53)
      if (view.keys === undefined) {
        const keys = await ask(way, origin, 'DNSKEY', { signed: true, pace })
        if (keys.ok && keys.message.aa && keys.message.rcode === 'NOERROR') {
          view.keys = recordsOf(keys.message.answer, origin, 'DNSKEY')
          if (view.keys.length > 0) view.sets.push(setOf(label, origin, 'DNSKEY', keys.message.answer))
        }
      }
      for (const { name, type } of asked) {
        const answer = await ask(way, name, type, { signed: true, pace })
        if (!answer.ok || !answer.message.aa || answer.message.rcode !== 'NOERROR') continue
        const there = answer.message.answer.find((record) => record.name === name && record.type !== 'RRSIG')
        if (there) view.sets.push(setOf(label, name, there.type, answer.message.answer))
      }
    }
  }
  return { ...view, refusing: await refusing() }

  async function dsOf(): Promise<DnsRecord[] | undefined> {
    for (const resolver of answering) {
      const answer = await ask(resolver, origin, 'DS', { recursive: true, unchecked: true, pace })
      if (answer.ok && (answer.message.rcode === 'NOERROR' || answer.message.rcode === 'NXDOMAIN'))
        return recordsOf(answer.message.answer, origin, 'DS')
    }
    return undefined
  }

  async function refusing(): Promise<SigningSeen['refusing']> {
    const found: { server: string; says: string }[] = []
    for (const resolver of answering) {
      const failed = asked.find((set) =>
        seen.some(
          (each) =>
            each.role === 'resolver' &&
            each.server === resolver.name &&
            each.name === set.name &&
            each.type === set.type &&
            each.status === 'failed',
        ),
      )
      if (!failed) continue
      const [checked, unchecked] = [
        await ask(resolver, failed.name, failed.type, { recursive: true, pace }),
        await ask(resolver, failed.name, failed.type, { recursive: true, unchecked: true, pace }),
      ]
      if (!checked.ok || checked.message.rcode !== 'SERVFAIL' || !unchecked.ok) continue
      if (unchecked.message.rcode !== 'NOERROR' && unchecked.message.rcode !== 'NXDOMAIN') continue
      const says = checked.message.extendedErrors.map(({ code, text }) => text || EXTENDED[code] || '').filter(Boolean)
      found.push({ server: resolver.name, says: says.join('; ') })
    }
    return found
  }
}

/** What a validator says by a code alone (RFC 8914 §4.7–4.13). */
const EXTENDED: Readonly<Record<number, string>> = {
  6: 'the signatures do not fit',
  7: 'a signature has ended',
  8: 'a signature is not valid yet',
  9: 'the key is missing',
  10: 'signatures are missing',
  11: 'no key is for signing a zone',
  12: 'the proof that nothing is there is missing',
}

const recordsOf = (records: readonly DnsRecord[], name: DnsName, type: string): DnsRecord[] =>
  records
    .filter((record) => record.name === name && record.type === type)
    .map(({ name: owner, type: kind, ttl, data }) => ({ name: owner, type: kind, ttl, data }))

const setOf = (server: string, name: DnsName, type: string, answer: readonly DnsRecord[]) => ({
  server,
  name,
  type,
  signatures: recordsOf(answer, name, 'RRSIG').filter((record) => record.data.startsWith(`${type} `)),
})
