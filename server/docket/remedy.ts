import type { Remedy, RemedyRequest } from '../../core/schemas'
import type { Actor } from '../usecases/ledger/change'

/** A remedy as it is told, and what applying it does; that gives a sentence. */
export interface ComposedRemedy {
  view: Remedy
  apply?: (actor: Actor, request?: RemedyRequest) => Promise<string>
}

/** A remedy's view with what most have; its id says what it does and to what. */
export const remedyView = (input: Partial<Remedy> & Pick<Remedy, 'id' | 'title' | 'sentence'>): Remedy => ({
  verified: '',
  verifiedAt: null,
  applies: false,
  undoable: false,
  to: null,
  destination: null,
  records: [],
  asks: [],
  scopes: [],
  proposed: null,
  visitsKept: 0,
  ...input,
})
