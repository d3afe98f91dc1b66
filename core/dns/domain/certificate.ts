import { hostOfName, type DnsName } from '../name'
import type { DomainTrouble } from './trouble'

/** What the front serves for a host over TLS. */
export interface ServedCertificate {
  answered: boolean
  sentence: string
  issuer: string
  validFrom: string | null
  validTo: string | null
  /** Why a browser would not take it; `null` where it would. */
  fault: string | null
}

/** The front renews when a third of a certificate's life is left; with a quarter left, that has not worked. */
const LATE = 0.25
const DAY_MS = 86_400_000

const days = (milliseconds: number) => {
  const count = Math.floor(milliseconds / DAY_MS)
  return count === 1 ? '1 day' : `${count} days`
}

/**
 * What is wrong with an open domain's certificate: none that browsers take, or one that ends soon and was not renewed.
 * `failure` is what the front told of its last try, where that failed.
 */
export function findCertificateTrouble(
  name: DnsName,
  served: ServedCertificate,
  failure: { at: number; detail: string } | undefined,
  now: number,
): DomainTrouble | undefined {
  const host = hostOfName(name)
  const told = failure ? ` The front’s last try failed: ${failure.detail}` : ''
  const evidence = [
    { label: 'Served', text: served.sentence, state: served.answered && !served.fault ? 'sound' : 'broken' } as const,
    ...(failure ? [{ label: 'Last try', text: failure.detail, state: 'broken' } as const] : []),
  ]
  if (!served.answered || served.fault !== null)
    return {
      kind: 'certificate-fault',
      subject: 'certificate',
      severity: 'broken',
      headline: 'No valid certificate',
      sentence: `${served.sentence} Browsers show a warning instead of any https address on ${host}.${told}`,
      evidence,
    }
  const [from, to] = [Date.parse(served.validFrom ?? ''), Date.parse(served.validTo ?? '')]
  if (!(to > from) || to - now > (to - from) * LATE) return undefined
  const left = to - now
  return {
    kind: 'certificate-ending',
    subject: 'certificate',
    harmAt: to,
    severity: left < 3 * DAY_MS || left < (to - from) / 20 ? 'broken' : 'doubtful',
    headline: `The certificate ${endWords(left)} and was not renewed`,
    sentence:
      `The certificate of ${host} is good until ${new Date(to).toISOString().slice(0, 16).replace('T', ' ')} UTC. ` +
      `The front renews when a third of its life is left, and has not done so.${told} When it ends, browsers refuse ` +
      `every address on ${host}.`,
    evidence: [...evidence, { label: 'Ends', text: new Date(to).toISOString(), state: 'doubtful' }],
  }
}

const endWords = (left: number) =>
  left <= 0 ? 'has ended' : `ends in ${left < DAY_MS ? 'less than a day' : days(left)}`
