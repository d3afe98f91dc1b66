import * as schema from '../../../core/schemas'
import { operation } from '../operation'
import { page } from './shapes'

/** Operations of the ledger, by name. */
export const ledger = {
  listLedger: operation({
    method: 'GET',
    path: '/ledger',
    summary: 'All changes, newest first.',
    role: 'viewer',
    query: schema.ledgerQuery,
    answer: page(schema.ledgerEntry),
    status: 200,
  }),
  undo: operation({
    method: 'POST',
    path: '/ledger/{id}/undo',
    summary: 'Undo one change by a change of its own.',
    role: 'editor',
    body: schema.undoRequest,
    answer: schema.ledgerEntry,
    status: 201,
  }),
}
