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
  exportLedger: operation({
    method: 'GET',
    path: '/ledger.csv',
    summary: 'All changes, newest first, as CSV (RFC 4180); at most 50,000.',
    role: 'viewer',
    query: schema.ledgerExportQuery,
    answers: 'text/csv; charset=utf-8',
    status: 200,
  }),
  compareMoments: operation({
    method: 'GET',
    path: '/ledger/compare',
    summary: 'What differs in the register between two moments of the past.',
    role: 'viewer',
    query: schema.compareQuery,
    answer: schema.comparison,
    status: 200,
  }),
  restoreLink: operation({
    method: 'POST',
    path: '/links/{id}/restore',
    summary: 'Restore a link as it was at a given time, as a separate change.',
    role: 'editor',
    body: schema.restoreRequest,
    answer: schema.link,
    once: true,
    status: 200,
    ifMatch: true,
    limited: 'link',
  }),
  restoreDomain: operation({
    method: 'POST',
    path: '/domains/{id}/restore',
    summary: 'Restore a domain as it was at a given time, as a separate change.',
    role: 'administrator',
    body: schema.restoreRequest,
    answer: schema.domain,
    once: true,
    status: 200,
    ifMatch: true,
  }),
  undo: operation({
    method: 'POST',
    path: '/ledger/{id}/undo',
    summary: 'Undo one change, as a separate change.',
    role: 'editor',
    body: schema.undoRequest,
    answer: schema.ledgerEntry,
    once: true,
    status: 201,
  }),
}
