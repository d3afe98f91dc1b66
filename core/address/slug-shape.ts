/** Longest slug kept, in UTF-16 units. */
export const MAX_SLUG = 200

export type SlugRefusal = 'empty' | 'too-long' | 'character' | 'segment' | 'well-known'

// Unreserved characters (RFC 3986 §2.3), the path's slash, and letters, marks and digits of any script.
const ALLOWED = /^[A-Za-z0-9\-._~/\p{L}\p{M}\p{N}]$/u
const ALL_ALLOWED = /^[A-Za-z0-9\-._~/\p{L}\p{M}\p{N}]*$/u

/**
 * Whether a slug could be kept at all, whatever the domain's own rules say. Returns the refusal and the character
 * at fault where there is one; `undefined` means it can be kept. `/.well-known/` belongs to the gateway (RFC 8615).
 */
export function judgeSlug(slug: string): { reason: SlugRefusal; character?: string } | undefined {
  if (slug === '') return { reason: 'empty' }
  if (slug.length > MAX_SLUG) return { reason: 'too-long' }
  if (!ALL_ALLOWED.test(slug))
    return { reason: 'character', character: [...slug].find((character) => !ALLOWED.test(character)) }
  const segments = slug.split('/')
  if (
    segments.some(
      (segment, index) => (segment === '' && index < segments.length - 1) || segment === '.' || segment === '..',
    )
  ) {
    return { reason: 'segment' }
  }
  if (slug === '/') return { reason: 'segment' }
  if (segments[0]!.toLowerCase() === '.well-known') return { reason: 'well-known' }
  return undefined
}
