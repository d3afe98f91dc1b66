import { z } from 'zod'
import * as schema from '../../../core/schemas'
import { operation } from '../operation'

/** Operations of the docket and its scans, by name. */
export const docket = {
  listCases: operation({
    method: 'GET',
    path: '/cases',
    summary: 'Cases of a state, by lane, those that affect most visits first.',
    role: 'viewer',
    query: schema.caseListQuery,
    answer: schema.caseList,
    status: 200,
  }),
  readCase: operation({
    method: 'GET',
    path: '/cases/{id}',
    summary: 'One case, with its remedies verified now.',
    role: 'viewer',
    answer: schema.docketCase,
    status: 200,
  }),
  changeCase: operation({
    method: 'PATCH',
    path: '/cases/{id}',
    summary: 'Set a case aside, or take it back up.',
    role: 'editor',
    body: schema.casePatch,
    answer: schema.docketCase,
    status: 200,
    ifMatch: true,
  }),
  applyRemedy: operation({
    method: 'POST',
    path: '/cases/{id}/remedies/{remedy}',
    summary: 'Apply a remedy by its id, with what it asks for.',
    role: 'administrator',
    body: schema.remedyRequest,
    answer: z.object({ case: schema.docketCase, sentence: z.string() }),
    once: true,
    status: 200,
    ifMatch: true,
  }),
  lastScan: operation({
    method: 'GET',
    path: '/conflicts/scan',
    summary: 'The newest full scan for conflicts.',
    role: 'viewer',
    answer: z.object({ scan: schema.conflictScan.nullable() }),
    status: 200,
  }),
  askForScan: operation({
    method: 'POST',
    path: '/conflicts/scan',
    summary: 'Have the whole register scanned for conflicts; ask for its progress by its number.',
    role: 'editor',
    answer: schema.conflictScan,
    status: 201,
  }),
  readScan: operation({
    method: 'GET',
    path: '/conflicts/scan/{id}',
    summary: 'How far a scan is.',
    role: 'viewer',
    answer: schema.conflictScan,
    status: 200,
  }),
  cancelScan: operation({
    method: 'DELETE',
    path: '/conflicts/scan/{id}',
    summary: 'Stop a scan.',
    role: 'editor',
    status: 204,
  }),
}
