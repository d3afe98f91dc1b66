import type { VisitKind } from './kind'

/** One recorded request, as the spool keeps it and the database takes it. Holds no address of the visitor. */
export interface VisitEvent {
  /** Milliseconds since the epoch. */
  at: number
  domainId: number
  /** 0: no link stood behind the answer. */
  linkId: number
  kind: VisitKind
  status: number
  outcome: string
  /** The path as read, only where no link answered. */
  path: string
  referrer: string
  /** ISO 3166-1 alpha-2 code; empty where unknown. */
  country: string
  language: string
  device: string
  system: string
  browser: string
  /** Day-bound visitor token, 16 octets in hexadecimal; empty where unknown. */
  visitor: string
}

/** Writes an event as one line of JSON, without the line feed. */
export function writeEvent(event: VisitEvent): string {
  return JSON.stringify([
    event.at, event.domainId, event.linkId, event.kind, event.status, event.outcome, event.path,
    event.referrer, event.country, event.language, event.device, event.system, event.browser, event.visitor,
  ])
}

/** Reads a line back; `undefined` for a line that a killed process left torn. */
export function readEvent(line: string): VisitEvent | undefined {
  let parsed: unknown
  try {
    parsed = JSON.parse(line)
  } catch {
    return undefined
  }
  if (!Array.isArray(parsed) || parsed.length !== 14) return undefined
  const [at, domainId, linkId, kind, status, outcome, path, referrer, country, language, device, system, browser, visitor] = parsed
  return { at, domainId, linkId, kind, status, outcome, path, referrer, country, language, device, system, browser, visitor }
}
