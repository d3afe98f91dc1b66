import { showHost } from '../core/address'
import { markup, visitorPage, type PageKind } from '../core/pages'
import type { DomainRow } from '../core/rows'
import type { Answer } from '../core/table'
import { NO_OFFERS, type Offers } from './likely'

/** The short note of a redirect (RFC 9110 §15.4.2). */
export const redirectNote = (location: string): string =>
  markup`<!doctype html><title>Moved</title><p>The page is at <a href="${location}">${location}</a>.</p>\n`.text

/** Which of our pages an outcome shows. */
const KINDS: Partial<Record<Answer['outcome'], PageKind>> = {
  paused: 'paused',
  ended: 'ended',
  retired: 'gone',
  'not-ours': 'not-served',
  'not-open': 'not-served',
}

/** What is said where something is wrong with the request itself; for whoever builds such, so in one language. */
const TECHNICAL: Partial<Record<Answer['outcome'], { heading: string; sentence: string }>> = {
  root: {
    heading: 'Short addresses only',
    sentence:
      'This domain is for short addresses. Please enter the complete address, including the part after the slash.',
  },
  'bad-host': {
    heading: 'Invalid address',
    sentence: 'The address contains an invalid character or escape. Please check it where you found it.',
  },
  'bad-target': {
    heading: 'Invalid address',
    sentence: 'The address contains an invalid character or escape. Please check it where you found it.',
  },
  'too-long': { heading: 'This address is too long', sentence: 'The maximum is 8,000 characters.' },
  'bad-method': { heading: 'Method not allowed', sentence: 'Open the address in a browser instead.' },
}

/** A page of our own, in the domain's name and the visitor's language; says nothing of who runs it or how. */
export function ownPage(
  answer: Answer,
  domain: DomainRow | undefined,
  acceptLanguage = '',
  offers: Offers = NO_OFFERS,
): string {
  if (answer.outcome === 'reserved') return answer.status === 200 ? 'User-agent: *\nDisallow:\n' : ''
  const host = domain ? showHost(domain.host) : ''
  const kind = KINDS[answer.outcome] ?? 'not-found'
  const technical = TECHNICAL[answer.outcome]
  // A name that is not open yet may be somebody’s website still: nothing is said for it.
  const open = domain?.open ?? false
  return visitorPage({
    kind,
    host,
    asked: host && answer.canonical ? `${host}/${answer.canonical}` : '',
    settings: open ? domain!.pages : {},
    acceptLanguage: technical ? '' : acceptLanguage,
    likely: offers.likely,
    others: offers.others,
    backAfter: answer.retryAfter,
    capitalsMatter: domain?.capitalsMatter,
    text: technical,
    tryAgain: open && (kind !== 'not-served' || answer.outcome === 'root'),
  })
}
