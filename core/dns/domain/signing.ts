import { hostOfName, type DnsName } from '../name'
import type { DnsRecord } from '../record'
import { dsIsUsable, dsMatches, keyTag, readDs, readSignature } from '../signing'
import { listed } from '../../text/listed'
import { clockWords, spanWords, type DomainTrouble } from './trouble'

/** What was seen of a zone's signing (RFC 4033–4035). */
export interface SigningSeen {
  /** DS records of the zone at its parent. */
  ds: readonly DnsRecord[]
  /** The zone's DNSKEY records; `undefined` where no name server gave an answer. */
  keys: readonly DnsRecord[] | undefined
  /** Sets asked for at each name server, those that are there, with the RRSIG records that came along. */
  sets: readonly { server: string; name: DnsName; type: string; signatures: readonly DnsRecord[] }[]
  /**
   * Resolvers that refuse the answer as long as they may check it, and give it where they must not (RFC 4035 §3.2.2).
   */
  refusing: readonly { server: string; says: string }[]
}

export type SigningVerdict =
  { state: 'unsigned' } | { state: 'sound'; ends: number } | { state: 'broken' | 'ending'; trouble: DomainTrouble }

/** Signatures that are not renewed by so long before their end are told; milliseconds. */
const ENDING_MS = 2 * 86_400_000
/** ... and only where so little of their time is left: some signers sign for a day, anew each time. */
const ENDING_PART = 0.1

/** So much do some validators allow clocks to be apart, of signatures that are valid long (common practice). */
const SKEW_MS = 86_400_000

interface Fault {
  headline: string
  sentence: string
  /** The moment a signature ended or begins, in milliseconds. */
  at?: number
}

/**
 * Judges a zone's chain of trust from what was seen: a DS without its key, signatures that are missing, over or not yet
 * begun, and resolvers that refuse its answers (RFC 4035 §5). `now` in milliseconds.
 */
export async function judgeSigning(
  name: DnsName,
  origin: DnsName,
  seen: SigningSeen,
  now: number,
): Promise<SigningVerdict> {
  const [host, zone] = [hostOfName(name), hostOfName(origin)]
  const usable = seen.ds.filter(dsIsUsable)
  const cause = usable.length > 0 ? ((await chainFault()) ?? signatureFault()) : undefined
  if (cause !== undefined || seen.refusing.length > 0) {
    const by = listed(seen.refusing.map(({ server }) => server))
    const says = [...new Set(seen.refusing.map((each) => each.says).filter(Boolean))].join('; ')
    return {
      state: 'broken',
      trouble: {
        kind: 'signing-broken',
        subject: zone,
        severity: 'broken',
        headline: cause?.headline ?? 'DNSSEC validation fails',
        sentence:
          (cause?.sentence ??
            `${by} ${seen.refusing.length === 1 ? 'refuses' : 'refuse'} to answer for ${host}, and ` +
              `${seen.refusing.length === 1 ? 'gives' : 'give'} the answer where checking is switched off: keys or ` +
              `signatures of ${zone}, of a zone above it or of the name it leads to do not fit.`) +
          ` Everyone behind a resolver that checks signatures (DNSSEC) gets no answer for ${host}` +
          (cause && seen.refusing.length > 0 ? `; ${by} ${seen.refusing.length === 1 ? 'refuses' : 'refuse'} it` : '') +
          (cause && seen.refusing.length === 0 ? slack(cause) : '') +
          `.${says ? ` Said why: ${says}.` : ''}`,
        evidence: [
          ...seen.refusing.map(({ server, says: why }) => ({
            label: server,
            text: `fails, and answers unchecked${why ? ` (${why})` : ''}`,
            state: 'broken' as const,
          })),
          ...(seen.ds.length > 0 ? [{ label: 'DS at the parent', text: dsWords(), state: 'doubtful' as const }] : []),
          ...(seen.keys ? [{ label: 'DNSKEY of the zone', text: keyWords(), state: 'doubtful' as const }] : []),
        ],
      },
    }
  }
  if (usable.length === 0) return { state: 'unsigned' }
  // One valid signature of a set is enough: the last to end counts (RFC 4035 §5.3.3).
  const all = seen.sets.flatMap(({ signatures }) => {
    const read = signatures.map(readSignature)
    return read.length === 0 ? [] : [read.reduce((a, b) => (b.ends > a.ends ? b : a))]
  })
  if (all.length === 0) return { state: 'sound', ends: Number.POSITIVE_INFINITY }
  const first = all.reduce((a, b) => (b.ends < a.ends ? b : a))
  const left = first.ends - now
  if (left >= ENDING_MS || left >= (first.ends - first.begins) * ENDING_PART)
    return { state: 'sound', ends: first.ends }
  return {
    state: 'ending',
    trouble: {
      kind: 'signing-ending',
      subject: zone,
      severity: 'doubtful',
      headline: 'DNSSEC signatures expire soon',
      sentence:
        `The signature of ${first.covers} in ${zone} ends at ${clockWords(first.ends)}, in ` +
        `${spanWords(Math.round(left / 1000))}, and has not been renewed. From then on resolvers that check ` +
        'signatures ' +
        `give no answer for ${host}. See why the signer does not run.`,
      harmAt: first.ends,
      evidence: [{ label: `RRSIG ${first.covers}`, text: `ends ${clockWords(first.ends)}`, state: 'doubtful' }],
    },
  }

  /** Resolvers hold what they checked before, and some forgive a clock that is off. */
  function slack({ at }: Fault): string {
    const forgiven = at !== undefined && Math.abs(now - at) < SKEW_MS
    return ` as soon as it forgets what it holds${forgiven ? ', at some only within a day from then' : ''}`
  }
  function dsWords(): string {
    return seen.ds.map((ds) => `key ${readDs(ds).tag}`).join(', ')
  }
  function keyWords(): string {
    return seen.keys!.length === 0 ? 'none' : seen.keys!.map((key) => `key ${keyTag(key)}`).join(', ')
  }

  async function chainFault(): Promise<Fault | undefined> {
    if (seen.keys === undefined) return undefined
    if (seen.keys.length === 0)
      return {
        headline: 'The parent says the zone is signed, and it is not',
        sentence:
          `The zone above ${zone} has a DS record (${dsWords()}), and ${zone} has no DNSKEY: sign it again with that ` +
          'key, or have the registrar take the DS record out.',
      }
    for (const ds of usable) for (const key of seen.keys) if (await dsMatches(ds, key)) return undefined
    return {
      headline: 'The parent’s DS record is of another key',
      sentence:
        `The zone above ${zone} has a DS record of ${dsWords()}, and ${zone} is signed with ${keyWords()}: have the ` +
        'registrar take the DS record of today’s key.',
    }
  }

  function signatureFault(): Fault | undefined {
    for (const { server, name: owner, type, signatures } of seen.sets) {
      const of = `${type} at ${hostOfName(owner)}`
      const read = signatures.map(readSignature).filter(({ covers }) => covers === type)
      if (read.length === 0)
        return {
          headline: `No signature stands beside ${of}`,
          sentence:
            `${server} gives ${of} without a signature, though the zone above says that ${zone} is ` +
            'signed: sign it again.',
        }
      const ended = Math.max(...read.map(({ ends }) => ends))
      if (ended <= now)
        return {
          at: ended,
          headline: 'The zone’s signatures have ended',
          sentence:
            `The signature of ${of} at ${server} ended at ${clockWords(ended)}: sign the zone again, ` +
            'and see why the signer does not run.',
        }
      const begins = Math.min(...read.map((each) => each.begins))
      if (begins > now)
        return {
          at: begins,
          headline: 'The zone’s signatures are not valid yet',
          sentence: `The signature of ${of} at ${server} begins at ${clockWords(begins)}: the signer’s clock is ahead.`,
        }
    }
    return undefined
  }
}
