import type { FileRefusal, FileRule, Ordered } from '../../../core/formats'
import type { IntakeDecision, IntakeKind } from '../../../core/schemas'
import type { TaggedLinkState } from '../links/link-state'

/** A link of a file as it would be written. */
export type LinkToBe = Omit<TaggedLinkState, 'canonical'> & { canonical: string }

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
}

/** A row of an intake as it is worked out. */
export interface JudgedRow {
  file: string
  line: number
  column: number
  kind: IntakeKind
  code: string
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

/** A row of which nothing is said yet. */
export const EMPTY = {
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
} satisfies Partial<JudgedRow>

export const refusedRow = ({ file, line, column, code, source, sentence, would }: FileRefusal): JudgedRow => ({
  ...EMPTY,
  file,
  line,
  column,
  kind: 'refused',
  code,
  source,
  why: sentence,
  would,
})

/** Rows for lines that say again what another says, and for those no address reaches. */
export function rowsBesides({ repeated, hidden }: Ordered): JudgedRow[] {
  return [
    ...repeated.map(({ link, of }): JudgedRow => ({
      ...EMPTY,
      file: link.file,
      line: link.line,
      column: link.column,
      kind: 'same',
      code: 'repeated',
      decision: 'leave',
      address: link.slug ?? '',
      destination: link.destination,
      status: link.status ?? null,
      why: `It says what line ${of.line} says.`,
    })),
    ...hidden.map(({ link, sentence }): JudgedRow => ({
      ...EMPTY,
      file: link.file,
      line: link.line,
      column: link.column,
      kind: 'refused',
      code: 'hidden',
      address: link.slug ?? '',
      destination: link.destination,
      status: link.status ?? null,
      source: `${link.slug ?? ''} ${link.destination ?? ''}`.slice(0, 300),
      why: sentence,
      would: 'It never answered anybody; leave it, or give it an address of its own.',
    })),
  ]
}
