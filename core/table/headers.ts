import { ALLOW } from './answer'
import type { Answer } from './reply'

/**
 * The fields of an answer as name, value, name, value…, in the order they are sent. Date, Content-Type and
 * Content-Length belong to whoever writes the body.
 */
export function headersOf(answer: Answer): string[] {
  const headers =
    answer.location === null
      ? ['Cache-Control', answer.cacheControl]
      : ['Location', answer.location, 'Cache-Control', answer.cacheControl]
  if (answer.vary !== null) headers.push('Vary', answer.vary)
  if (answer.robots !== null) headers.push('X-Robots-Tag', answer.robots)
  if (answer.referrerPolicy !== null) headers.push('Referrer-Policy', answer.referrerPolicy)
  if (answer.hsts !== null) headers.push('Strict-Transport-Security', `max-age=${answer.hsts}`)
  if (answer.retryAfter !== null) headers.push('Retry-After', String(answer.retryAfter))
  if (answer.outcome === 'options' || answer.outcome === 'bad-method') headers.push('Allow', ALLOW)
  return headers
}
