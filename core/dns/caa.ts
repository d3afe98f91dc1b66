import { dataWords, type DnsRecord } from './record'
import { hostOfName, parentOf, type DnsName } from './name'
import { unescapeString } from './text'

/** What a CAA set at some name says to one certificate issuer. */
export interface CaaVerdict {
  allowed: boolean
  /** Where the set stands; `undefined` where none exists up the tree, which lets every issuer in. */
  owner: DnsName | undefined
  records: readonly DnsRecord[]
  sentence: string
}

const value = (record: DnsRecord) => unescapeString(dataWords(record)[2]!.slice(1, -1))
const tag = (record: DnsRecord) => dataWords(record)[1]!
const critical = (record: DnsRecord) => (Number(dataWords(record)[0]) & 128) !== 0
const KNOWN = new Set(['issue', 'issuewild', 'iodef', 'contactemail', 'contactphone', 'issuemail', 'issuevmc'])

/**
 * Whether an issuer may make a certificate for a name: climbs from the name to the root and takes the first CAA set
 * found (RFC 8659 §3). `caaAt` gives the CAA records a question for a name is answered with, aliases followed.
 */
export function judgeCaa(
  name: DnsName,
  issuers: readonly string[],
  caaAt: (name: DnsName) => readonly DnsRecord[],
): CaaVerdict {
  for (let at: DnsName | undefined = name; at !== undefined && at !== '.'; at = parentOf(at)) {
    const records = caaAt(at)
    if (records.length > 0) return { ...judgeSet(at, records, issuers), owner: at, records }
  }
  return {
    allowed: true,
    owner: undefined,
    records: [],
    sentence: `No CAA record stands at ${hostOfName(name)} or above it, so any issuer may make a certificate.`,
  }
}

function judgeSet(
  at: DnsName,
  records: readonly DnsRecord[],
  issuers: readonly string[],
): { allowed: boolean; sentence: string } {
  const unknown = records.find((record) => critical(record) && !KNOWN.has(tag(record)))
  if (unknown)
    return {
      allowed: false,
      sentence:
        `The CAA records at ${hostOfName(at)} carry the critical tag “${tag(unknown)}”, which issuers must ` +
        'not pass over (RFC 8659 §4.5).',
    }
  const issue = records.filter((record) => tag(record) === 'issue')
  if (issue.length === 0)
    return {
      allowed: true,
      sentence: `The CAA records at ${hostOfName(at)} have no issue property, so any issuer may make a certificate.`,
    }
  const named = issue.map((record) => value(record).split(';')[0]!.trim().toLowerCase())
  const mine = issuers.find((issuer) => named.includes(issuer.toLowerCase()))
  const list = named.filter(Boolean).join(', ') || 'nobody'
  if (mine) return { allowed: true, sentence: `CAA at ${hostOfName(at)} lets ${mine} in.` }
  return {
    allowed: false,
    sentence:
      `CAA at ${hostOfName(at)} lets in ${list}, not ${issuers.join(' or ') || 'our issuer'}: no ` +
      'certificate can be made or renewed.',
  }
}
