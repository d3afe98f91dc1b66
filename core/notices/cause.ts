import { CASE_KINDS, type CaseKindName } from '../docket'

/** Verdicts that tell of a whole host rather than of one page there. */
const OF_A_HOST: ReadonlySet<string> = new Set(['no-such-name', 'no-answer', 'certificate', 'server-error'])

interface CausedCase {
  kind: CaseKindName
  caseKey: string
  domainId: number | null
  /** The host its destination is on, where it is about a destination. */
  host: string | undefined
}

/**
 * What a case comes of, as one text: cases of one cause are told once. A host that fails breaks all links to it, and a
 * rule or a change of slug rules brings many conflicts of one kind; all else is its own cause.
 */
export function causeOf({ kind, caseKey, domainId, host }: CausedCase): string {
  const { lane } = CASE_KINDS[kind]
  if (lane === 'targets' && host !== undefined && OF_A_HOST.has(kind)) return `host ${host}`
  if (lane === 'conflicts' || lane === 'domains') return `${kind} ${domainId ?? 0}`
  return `case ${caseKey}`
}
