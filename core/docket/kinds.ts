/** The docket's lanes in their order, as people call them. */
export const LANES = {
  targets: 'Targets',
  misses: 'Not found',
  conflicts: 'Conflicts',
  domains: 'Domains',
  dates: 'Dates',
} as const
export type LaneName = keyof typeof LANES

/** How much of the visits a case is about are harmed by it (semantics §14). */
export type Harm =
  /** Visitors do not arrive. */
  | 'lost'
  /** The share that its evidence shows: of the servers or resolvers asked, those that lead elsewhere. */
  | 'measured'
  | 'doubt'
  /** Only who mistypes. */
  | 'mistyped'
  /** Nobody: a remark. */
  | 'none'

interface CaseKind {
  lane: LaneName
  harm: Harm
  /** Its harm lies ahead, at the date the case names. */
  dated?: true
  /** What it would take cannot be given back. */
  irrevocable?: true
}

/** Every kind of case, with how its urgency is reckoned. */
const KINDS = {
  'front-page': { lane: 'targets', harm: 'lost' },
  'not-found': { lane: 'targets', harm: 'lost' },
  'soft-not-found': { lane: 'targets', harm: 'lost' },
  parked: { lane: 'targets', harm: 'lost' },
  'sign-in': { lane: 'targets', harm: 'lost' },
  refused: { lane: 'targets', harm: 'doubt' },
  'server-error': { lane: 'targets', harm: 'lost' },
  'no-such-name': { lane: 'targets', harm: 'lost' },
  'no-answer': { lane: 'targets', harm: 'lost' },
  certificate: { lane: 'targets', harm: 'lost' },
  'redirect-loop': { lane: 'targets', harm: 'lost' },
  'parameters-lost': { lane: 'targets', harm: 'doubt' },
  downgraded: { lane: 'targets', harm: 'doubt' },
  'moved-permanently': { lane: 'targets', harm: 'none' },
  'moved-temporarily': { lane: 'targets', harm: 'none' },
  'mistyped-address': { lane: 'misses', harm: 'lost' },
  'unmet-demand': { lane: 'misses', harm: 'lost' },
  'gone-asked-for': { lane: 'misses', harm: 'lost' },
  'missed-family': { lane: 'misses', harm: 'lost' },
  'same-address': { lane: 'conflicts', harm: 'lost' },
  'look-alike': { lane: 'conflicts', harm: 'mistyped' },
  'one-slip': { lane: 'conflicts', harm: 'mistyped' },
  hidden: { lane: 'conflicts', harm: 'doubt' },
  overlapping: { lane: 'conflicts', harm: 'doubt' },
  loop: { lane: 'conflicts', harm: 'lost' },
  chain: { lane: 'conflicts', harm: 'none' },
  twins: { lane: 'conflicts', harm: 'none' },
  'rule-breaker': { lane: 'conflicts', harm: 'mistyped' },
  'record-gone': { lane: 'domains', harm: 'measured' },
  'address-changed': { lane: 'domains', harm: 'measured' },
  'cname-dangling': { lane: 'domains', harm: 'lost' },
  'one-server-changed': { lane: 'domains', harm: 'measured' },
  'caa-shuts-out': { lane: 'domains', harm: 'doubt' },
  'record-beside': { lane: 'domains', harm: 'measured' },
  'server-lame': { lane: 'domains', harm: 'doubt' },
  'server-silent': { lane: 'domains', harm: 'doubt' },
  'server-failing': { lane: 'domains', harm: 'doubt' },
  'server-expired': { lane: 'domains', harm: 'doubt' },
  'server-behind': { lane: 'domains', harm: 'doubt' },
  'no-server': { lane: 'domains', harm: 'lost' },
  'one-family': { lane: 'domains', harm: 'doubt' },
  'signing-broken': { lane: 'domains', harm: 'lost' },
  'signing-ending': { lane: 'domains', harm: 'doubt' },
  'resolver-late': { lane: 'domains', harm: 'measured' },
  'not-reached': { lane: 'domains', harm: 'lost' },
  'certificate-fault': { lane: 'domains', harm: 'lost' },
  'certificate-ending': { lane: 'domains', harm: 'lost', dated: true },
  'change-held': { lane: 'dates', harm: 'doubt' },
  'link-ending': { lane: 'dates', harm: 'lost', dated: true },
  'look-again': { lane: 'dates', harm: 'doubt', dated: true },
  'ends-there': { lane: 'dates', harm: 'lost', dated: true },
  'renewal-due': { lane: 'domains', harm: 'lost', dated: true, irrevocable: true },
} as const satisfies Record<string, CaseKind>

export type CaseKindName = keyof typeof KINDS
export const CASE_KINDS: Readonly<Record<CaseKindName, CaseKind>> = KINDS

const SHARES: Record<Exclude<Harm, 'measured'>, number> = { lost: 1, doubt: 0.3, mistyped: 0.02, none: 0 }

interface Seen {
  kind: CaseKindName
  severity: 'broken' | 'doubtful'
  evidence: readonly { state: 'sound' | 'doubtful' | 'broken' }[]
}

/**
 * The part of the visits a case is about that it harms. What leads nowhere loses all of them, of whatever kind it is.
 */
export function shareHarmed({ kind, severity, evidence }: Seen): number {
  const { harm, lane } = CASE_KINDS[kind]
  if (harm === 'none') return severity === 'broken' ? 1 : 0
  // What comes and goes harms some of them.
  if (lane === 'targets' && harm === 'lost' && severity === 'doubtful') return SHARES.doubt
  if (harm !== 'measured') return SHARES[harm]
  const wrong = evidence.filter(({ state }) => state !== 'sound').length
  return evidence.length === 0 ? SHARES.doubt : wrong / evidence.length
}

/** Whether a case is a remark: it harms nobody, needs no reason, and counts on no badge. */
export const isRemark = ({ kind, severity }: Pick<Seen, 'kind' | 'severity'>): boolean =>
  CASE_KINDS[kind].harm === 'none' && severity !== 'broken'
