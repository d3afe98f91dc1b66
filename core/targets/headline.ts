import type { Evidence } from './evidence'
import { VERDICTS, type VerdictName } from './verdicts'

/** A verdict in two to four words, with the number in it where it has one. */
export function headlineOf(verdict: VerdictName, evidence: Evidence, flapping: boolean): string {
  const last = evidence.hops.at(-1)!
  const status = last.status !== null && last.status >= 400 ? ` (${last.status})` : ''
  const words: Partial<Record<VerdictName, string>> = {
    'not-found': last.status === 410 ? 'Page gone (410)' : 'Page not found (404)',
    refused: `Blocks our checks${status}`,
    'server-error': `Server error${status}`,
    'front-page': 'Page now redirects to the home page',
    'sign-in': last.fault ? 'Sign-in required' : `Sign-in required${status}`,
    'no-answer': `${new URL(last.url).host} does not answer`,
    'no-such-name': `Host not found: ${new URL(last.url).host}`,
    certificate: certificateHeadline(evidence),
    'parameters-lost': 'Parameters lost in a redirect',
    parked: 'Domain is parked',
    downgraded: 'Ends on unencrypted http',
    'moved-permanently': 'Moved permanently',
    'moved-temporarily': last.fault ? 'Hands visitors to an app' : 'Temporary redirect for over 30 days',
  }
  const headline = words[verdict] ?? VERDICTS[verdict].words
  return flapping ? `Intermittent: ${headline[0]!.toLowerCase()}${headline.slice(1)}` : headline
}

function certificateHeadline({ hops }: Evidence): string {
  const fault = hops.at(-1)?.certificate?.fault
  const words = {
    expired: 'Certificate has expired',
    'not-yet': 'Certificate is not valid yet',
    'wrong-name': 'Certificate is for another name',
    'unknown-issuer': 'Certificate from an unknown issuer',
    'self-signed': 'Self-signed certificate',
    weak: 'Certificate is too weak',
    other: 'Certificate error',
  }
  return fault ? words[fault] : 'Certificate error'
}
