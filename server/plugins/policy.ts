import { createHash } from 'node:crypto'
import pagePaths from '#page-paths'

const FIXED =
  "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; font-src 'self' data:; " +
  "base-uri 'self'; form-action 'self'; frame-ancestors 'none'; object-src 'none'"

const known = new Map<string, string>()

/** The inline scripts of a page, by their hashes (CSP Level 3 §2.3.1); a page of a build never changes. */
function policyOf(page: string): string {
  let policy = known.get(page)
  if (policy === undefined) {
    const hashes = [...page.matchAll(/<script\b(?![^>]*\bsrc=)[^>]*>([\s\S]*?)<\/script>/g)].map(
      ([, script]) => `'sha256-${createHash('sha256').update(script!).digest('base64')}'`,
    )
    policy = `${FIXED}; script-src 'self' ${hashes.join(' ')}`.trim()
    if (known.size > 100) known.clear()
    known.set(page, policy)
  }
  return policy
}

const pages = pagePaths.map((path) => new RegExp(path))
const isPage = (path: string) => pages.some((page) => page.test(path))

/**
 * What pages of the desk may run is named in their policy: our own files, and inline scripts by their hashes. An
 * address that is no page of the desk answers 404, with a page that says so.
 */
export default defineNitroPlugin((nitro) => {
  nitro.hooks.hook('render:response', (response, { event }) => {
    if (!isPage(event.path.split('?')[0]!)) response.statusCode = 404
    const headers = (response.headers ??= {}) as Record<string, string>
    const kept = Object.entries(headers).filter(([name]) => !/^x-powered-by$/i.test(name))
    response.headers = { ...Object.fromEntries(kept), 'Content-Security-Policy': policyOf(String(response.body)) }
  })
})
