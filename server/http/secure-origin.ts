/**
 * Whether browsers hold an origin for trustworthy, and keep cookies that are bound to TLS there: https, or the machine
 * itself (W3C Secure Contexts §3.1).
 */
export function isTrustworthyOrigin(origin: string): boolean {
  if (!URL.canParse(origin)) return false
  const { protocol, hostname } = new URL(origin)
  return protocol === 'https:' || /^(?:127(?:\.\d+){3}|\[::1\]|(?:[^.]+\.)*localhost)$/.test(hostname)
}
