import type { Evidence } from './evidence'
import type { VerdictName } from './verdicts'

/** Verdicts that a whole host earns, rather than one page there. */
const OF_A_HOST: ReadonlySet<VerdictName> = new Set(['no-such-name', 'no-answer', 'certificate', 'server-error'])

/**
 * What a failing check comes of where other destinations may fail of it too, as one text: the host that failed, or the
 * issuer that browsers do not know. `null` where the page itself is at fault.
 */
export function causeOfFailure(verdict: VerdictName, { hops }: Evidence): string | null {
  const last = hops.at(-1)
  if (!last || !OF_A_HOST.has(verdict) || !URL.canParse(last.url)) return null
  const { certificate } = last
  if (verdict === 'certificate' && certificate?.fault === 'unknown-issuer' && certificate.issuer !== '')
    return `issuer ${certificate.issuer}`.slice(0, 300)
  return `${verdict} ${new URL(last.url).host}`.slice(0, 300)
}
