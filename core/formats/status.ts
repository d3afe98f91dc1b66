import type { Redirect } from '../rows/redirect'
import { REDIRECT_STATUSES } from '../rows/redirect-status'

const WORDS: Record<string, Redirect['status'] | 'gone'> = {
  permanent: 301,
  moved: 301,
  temp: 302,
  temporary: 302,
  redirect: 302,
  found: 302,
  seeother: 303,
  'see-other': 303,
  gone: 'gone',
  '410': 'gone',
}

/**
 * A status as files write it: a number or a word. `undefined` where it is neither a redirect we answer with (RFC 9110
 * §15.4) nor “gone” (§15.5.11).
 */
export function readStatus(text: string): Redirect['status'] | 'gone' | undefined {
  const word = text.trim().toLowerCase()
  return WORDS[word] ?? REDIRECT_STATUSES.find((status) => String(status) === word)
}
