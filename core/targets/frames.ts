import type { HopFields } from './evidence'

/** Whether other sites may show a page inside theirs, and the field that says so. */
export interface FrameRule {
  allowed: boolean
  /** The field that forbids it, as it came; empty where none does. */
  field: string
}

/**
 * Whether a page may be framed by a page of `origin`: `frame-ancestors` (CSP Level 3 §6.4.2) where it is there, which
 * obsoletes X-Frame-Options (RFC 7034; its ALLOW-FROM no browser knows any more, so it forbids nothing).
 */
export function framesAllowed(fields: Pick<HopFields, 'frameOptions' | 'frameAncestors'>, origin: string): FrameRule {
  if (fields.frameAncestors !== null) {
    const allowed = fields.frameAncestors.split(/\s+/).some((source) => matches(source, origin))
    return { allowed, field: allowed ? '' : `Content-Security-Policy: frame-ancestors ${fields.frameAncestors}` }
  }
  const values = (fields.frameOptions ?? '')
    .toLowerCase()
    .split(',')
    .map((value) => value.trim())
  const forbidden = values.some((value) => value === 'deny' || value === 'sameorigin')
  return { allowed: !forbidden, field: forbidden ? `X-Frame-Options: ${fields.frameOptions}` : '' }
}

/** The value of `frame-ancestors` in a policy; `null` where it has none. */
export function frameAncestorsOf(policy: string | undefined): string | null {
  if (policy === undefined) return null
  for (const directive of policy.split(/[;,]/)) {
    const [name, ...sources] = directive.trim().split(/\s+/)
    if (name?.toLowerCase() === 'frame-ancestors') return sources.join(' ') || "'none'"
  }
  return null
}

function matches(source: string, origin: string): boolean {
  const url = new URL(origin)
  const text = source.toLowerCase()
  if (text === '*') return true
  if (text === "'none'" || text === "'self'" || text === '') return false
  if (/^[a-z][a-z0-9+.-]*:$/.test(text)) return url.protocol === text || (text === 'http:' && url.protocol === 'https:')
  const parts = /^(?:([a-z][a-z0-9+.-]*):\/\/)?(\*|(?:\*\.)?[a-z0-9.-]+)(?::(\d+|\*))?/.exec(text)
  if (!parts) return false
  const [, scheme, host, port] = parts
  if (scheme && `${scheme}:` !== url.protocol && !(scheme === 'http' && url.protocol === 'https:')) return false
  if (port && port !== '*' && port !== (url.port || (url.protocol === 'https:' ? '443' : '80'))) return false
  return host === '*' || host === url.hostname || (host!.startsWith('*.') && url.hostname.endsWith(host!.slice(1)))
}
