import type { FileRefusal, FileRule, Ordered } from '../../../core/formats'
import type { IntakeDecision, IntakeKind } from '../../../core/schemas'
import type { TaggedLinkState } from '../links/link-state'

/** A link of a file as it would be written. */
export type LinkToBe = Omit<TaggedLinkState, 'canonical'> & { canonical: string }

/** What most links of a file are in most ways; only what differs is kept. */
const USUAL: Partial<LinkToBe> = {
  forwardsTo: null,
  exception: false,
  query: 'discard',
  queryConflict: 'destination',
  title: '',
  note: '',
  owner: '',
  standing: 'live',
  startsAt: null,
  endsAt: null,
  resumesAt: null,
  endedDestination: null,
  robots: null,
  referrerPolicy: null,
  unlisted: false,
  tags: [],
}

/** What is kept of a row’s state: of a link to be made, what is not as usual. */
export function toKept({ state, linkVersion }: JudgedRow): object | null {
  if (state === null || linkVersion !== null || !('slug' in state)) return state
  const usual = USUAL as Record<string, unknown>
  const kept: Record<string, unknown> = {}
  // A file has very many rows: without lists in between this takes a third of the time.
  for (const field in state) {
    const value = (state as unknown as Record<string, unknown>)[field]
    if (field === 'tags' ? (value as string[]).length > 0 : value !== usual[field]) kept[field] = value
  }
  return kept
}

/** The link to be made that a kept state tells of. */
export const fromKept = (kept: Partial<LinkToBe>): LinkToBe => ({ ...USUAL, ...kept }) as LinkToBe

/** A rule of a file as it would be written, without its place. */
export interface RuleToBe {
  domainId: number
  title: string
  syntax: 'path' | 'expression'
  pattern: string
  destination: string
  status: number
  query: 'discard' | 'carry'
  queryConflict: 'destination' | 'visitor' | 'both'
  condition: FileRule['condition']
  except: string[]
  /** Its place among the rules of the file, in the order in which the file's own program asks them. */
  rank: number
}

/** A row of an intake as it is worked out. */
export interface JudgedRow {
  file: string
  line: number
  column: number
  kind: IntakeKind
  code: string
  /** The pattern of the rule it conflicts with. */
  cause?: string
  decision: IntakeDecision | null
  address: string
  destination: string | null
  status: number | null
  /** What it would be written as; of a link to be changed only the fields that change. */
  state: LinkToBe | RuleToBe | Partial<TaggedLinkState> | null
  before: Partial<TaggedLinkState> | null
  linkId: number | null
  linkVersion: number | null
  family: number | null
  hash: string | null
  source: string
  why: string
  would: string
}

/** A row of which nothing is said yet. Made in one piece, since a file has very many. */
export const emptyRow = (file: string, line: number, column: number, kind: IntakeKind): JudgedRow => ({
  file,
  line,
  column,
  kind,
  code: '',
  decision: null,
  address: '',
  destination: null,
  status: null,
  state: null,
  before: null,
  linkId: null,
  linkVersion: null,
  family: null,
  hash: null,
  source: '',
  why: '',
  would: '',
})

export const refusedRow = ({ file, line, column, code, source, sentence, would }: FileRefusal): JudgedRow => ({
  ...emptyRow(file, line, column, 'refused'),
  code,
  source,
  why: sentence,
  would,
})

/** Rows for lines that say again what another says, and for those no address reaches. */
export function rowsBesides({ repeated, hidden }: Ordered): JudgedRow[] {
  return [
    ...repeated.map(({ link, of }): JudgedRow => ({
      ...emptyRow(link.file, link.line, link.column, 'same'),
      code: 'repeated',
      decision: 'leave',
      address: link.slug ?? '',
      destination: link.destination,
      status: link.status ?? null,
      why: `It says what line ${of.line} says.`,
    })),
    ...hidden.map(({ link, sentence }): JudgedRow => ({
      ...emptyRow(link.file, link.line, link.column, 'refused'),
      code: 'hidden',
      address: link.slug ?? '',
      destination: link.destination,
      status: link.status ?? null,
      source: `${link.slug ?? ''} ${link.destination ?? ''}`.slice(0, 300),
      why: sentence,
      would: 'Never reached on the old server. Skip it, or give it another address.',
    })),
  ]
}
