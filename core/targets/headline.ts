import type { Evidence } from './evidence'
import { VERDICTS, type VerdictName } from './verdicts'

/** A verdict in two to four words, with the number in it where it has one. */
export function headlineOf(verdict: VerdictName, evidence: Evidence, flapping: boolean): string {
  const last = evidence.hops.at(-1)!
  const status = last.status !== null && last.status >= 400 ? ` (${last.status})` : ''
  const words: Partial<Record<VerdictName, string>> = {
    'not-found': last.status === 410 ? 'Page gone (410)' : 'Page not found (404)',
    refused: `Refuses our checks${status}`,
    'server-error': `Server fault${status}`,
    'front-page': 'Deep page lands on the front page',
    'sign-in': last.fault ? 'Only for signed-in people' : `Only for signed-in people${status}`,
    'no-answer': `${new URL(last.url).host} does not answer`,
    'no-such-name': `No such name: ${new URL(last.url).host}`,
    certificate: certificateHeadline(evidence),
    'parameters-lost': 'Parameters are lost on the way',
    parked: 'Domain is parked',
    downgraded: 'Ends on http, unencrypted',
    'moved-permanently': 'Moved for good',
    'moved-temporarily': 'Moved for now, for a month already',
  }
  const headline = words[verdict] ?? VERDICTS[verdict].words
  return flapping ? `Comes and goes: ${headline[0]!.toLowerCase()}${headline.slice(1)}` : headline
}

function certificateHeadline({ hops }: Evidence): string {
  const fault = hops.at(-1)?.certificate?.fault
  const words = {
    expired: 'Certificate has expired',
    'not-yet': 'Certificate is not valid yet',
    'wrong-name': 'Certificate is for another name',
    'unknown-issuer': 'Certificate of an unknown issuer',
    'self-signed': 'Certificate signed itself',
    weak: 'Certificate is too weak',
    other: 'Certificate fault',
  }
  return fault ? words[fault] : 'Certificate fault'
}
