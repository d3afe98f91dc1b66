import type { Evidence, Hop } from './evidence'

const HOST = /^(?:log-?in|sign-?in|auth|sso|accounts?|id|idp|identity|adfs|oauth|openid|cas)\d*$/i
const WORDS = [
  'log-?in|sign-?in|log-?on|sign-?on|authenticate|authorize|oauth2?|sso|saml2?|adfs',
  'anmelden|anmeldung|connexion|entrar|acceso|accedi|inloggen',
].join('|')
const PATH = new RegExp(`(?:^|[/._-])(?:${WORDS})(?:$|[/._-])`, 'i')
/** A page with a sign-in form and no more words than this is nothing but that. */
const MAX_WORDS = 160
/** Ask for access, and little else. */
const MAX_ACCESS_WORDS = 120

const isSignInAddress = (url: string): boolean => {
  const { hostname, pathname } = new URL(url)
  return HOST.test(hostname.split('.')[0]!) || PATH.test(pathname)
}

/** Why a page that answers is open only to those who sign in; `undefined` where it is not. */
export function signInWall(
  evidence: Evidence,
  last: Hop,
): { sentence: string; label: string; text: string } | undefined {
  const { page, destination } = evidence
  const meant = isSignInAddress(destination)
  if (page?.signs.includes('ask-access') && page.words < MAX_ACCESS_WORDS && page.passwordFields === 0)
    return {
      sentence: 'Access required: visitors are asked to request access.',
      label: 'Asks for access',
      text: page.title || page.heading,
    }
  // Who links to a sign-in page means it.
  if (meant) return undefined
  const host = new URL(last.url).hostname
  if (
    evidence.hops.length > 1 &&
    isSignInAddress(last.url) &&
    (page === null || page.signs.includes('sign-in') || page.passwordFields > 0 || HOST.test(host.split('.')[0]!))
  )
    return {
      sentence: `Sign-in required: visitors reach a sign-in page on ${host}.`,
      label: 'Ends at a sign-in page',
      text: last.url,
    }
  if (page && page.passwordFields > 0 && page.words < MAX_WORDS && page.signs.includes('sign-in'))
    return {
      sentence: 'Sign-in required: visitors see a sign-in form.',
      label: 'Shows a sign-in form',
      text: [page.title || page.heading, page.formHosts.length > 0 && `sends it to ${page.formHosts.join(', ')}`]
        .filter(Boolean)
        .join('; '),
    }
  return undefined
}

/** What an authentication challenge asks for (RFC 9110 §11.3, §11.6.1): scheme and realm. */
export function challengeWords(challenge: string | null): string {
  const scheme = /^\s*([A-Za-z][\w-]*)/.exec(challenge ?? '')?.[1]
  const realm = /realm\s*=\s*(?:"((?:[^"\\]|\\.)*)"|([^\s,]+))/i.exec(challenge ?? '')
  const name = (realm?.[1] ?? realm?.[2] ?? '').replace(/\\(.)/g, '$1').slice(0, 80)
  return scheme ? `${scheme} sign-in${name ? ` for “${name}”` : ''}` : 'a sign-in'
}
