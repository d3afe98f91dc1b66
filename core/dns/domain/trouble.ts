/** What can be wrong with a domain; a kind of case each. */
export const DOMAIN_CASE_KINDS = [
  'record-gone',
  'address-changed',
  'record-beside',
  'cname-dangling',
  'one-server-changed',
  'caa-shuts-out',
  'server-lame',
  'server-silent',
  'server-failing',
  'server-expired',
  'server-behind',
  'no-server',
  'one-family',
  'signing-broken',
  'signing-ending',
  'resolver-late',
  'not-reached',
  'certificate-fault',
  'certificate-ending',
  'renewal-due',
] as const
export type DomainCaseKind = (typeof DOMAIN_CASE_KINDS)[number]

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
  /** When its harm begins, in milliseconds; absent where it is there already. */
  harmAt?: number
  /** What it comes of where other domains may suffer of it too. */
  cause?: string
}

/** A moment in a sentence, in UTC. */
export const clockWords = (milliseconds: number) =>
  `${new Date(milliseconds).toISOString().slice(0, 16).replace('T', ' ')} UTC`

/** A span of seconds in a sentence. */
export function spanWords(seconds: number): string {
  const [count, unit] =
    seconds < 120
      ? [seconds, 'second']
      : seconds < 7200
        ? [Math.round(seconds / 60), 'minute']
        : seconds < 172_800
          ? [Math.round(seconds / 3600), 'hour']
          : [Math.round(seconds / 86_400), 'day']
  return `${count} ${unit}${count === 1 ? '' : 's'}`
}
