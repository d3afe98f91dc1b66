import * as schema from '../../../core/schemas'
import { operation } from '../operation'
import { list, page } from './shapes'

/** What a file may be sent as; what it is, is told by its name and text. */
const FILE_TYPES = [
  'text/plain',
  'text/csv',
  'text/tab-separated-values',
  'text/html',
  'text/xml',
  'application/xml',
  'application/json',
  'application/x-ndjson',
  'application/zip',
  'application/octet-stream',
]

/** Operations of bringing files in and taking them out. */
export const exchange = {
  listIntakes: operation({
    method: 'GET',
    path: '/imports',
    summary: 'Recent imports, newest first.',
    role: 'viewer',
    paged: true,
    answer: list(schema.intake),
    status: 200,
  }),
  makeIntake: operation({
    method: 'POST',
    path: '/imports',
    summary:
      'Upload a file (or a ZIP of files) to import: reads it and compares it with the register. Changes nothing yet.',
    role: 'editor',
    query: schema.intakeQuery,
    text: { types: FILE_TYPES, most: schema.MAX_FILE },
    answer: schema.intake,
    once: true,
    status: 202,
  }),
  fetchIntake: operation({
    method: 'POST',
    path: '/imports/fetch',
    summary: 'Import a file from a URL, fetched under the rules of destination checks. Changes nothing yet.',
    role: 'editor',
    body: schema.intakeFetch,
    answer: schema.intake,
    once: true,
    status: 202,
  }),
  askColleague: operation({
    method: 'POST',
    path: '/imports/{id}/ask',
    summary: 'Ask another member by e-mail to review a file before it is imported.',
    role: 'editor',
    body: schema.intakeAsk,
    once: true,
    status: 204,
  }),
  readIntake: operation({
    method: 'GET',
    path: '/imports/{id}',
    summary: 'An import: the progress of reading and checking, and its effect.',
    role: 'viewer',
    answer: schema.intake,
    status: 200,
  }),
  changeIntake: operation({
    method: 'PATCH',
    path: '/imports/{id}',
    summary: 'Have a file read otherwise, take rules in place of links of one shape, or note why.',
    role: 'editor',
    body: schema.intakePatch,
    answer: schema.intake,
    status: 200,
    ifMatch: true,
  }),
  withdrawIntake: operation({
    method: 'DELETE',
    path: '/imports/{id}',
    summary: 'Discard an import, or cancel one in progress.',
    role: 'editor',
    status: 204,
  }),
  listIntakeRows: operation({
    method: 'GET',
    path: '/imports/{id}/rows',
    summary: 'What each line of a file comes to, one page at a time.',
    role: 'viewer',
    query: schema.intakeRowsQuery,
    answer: page(schema.intakeRow),
    status: 200,
  }),
  decideIntakeRows: operation({
    method: 'PATCH',
    path: '/imports/{id}/rows',
    summary: 'Set decisions for lines, singly or by finding.',
    role: 'editor',
    body: schema.intakeRowsPatch,
    answer: schema.intake,
    status: 200,
  }),
  applyIntake: operation({
    method: 'POST',
    path: '/imports/{id}/apply',
    summary: 'Bring a file in as it was decided: all of it or nothing, as one entry of the ledger.',
    role: 'administrator',
    answer: schema.intake,
    once: true,
    status: 200,
    ifMatch: true,
  }),
  replayLog: operation({
    method: 'POST',
    path: '/imports/{id}/log',
    summary:
      'Replay an old server’s access log (Common or Combined Log Format) against the table as it would be after an ' +
      'import.',
    role: 'editor',
    text: { types: ['text/plain', 'application/octet-stream'], most: schema.MAX_FILE },
    answer: schema.logReplay,
    status: 200,
  }),
  takeOut: operation({
    method: 'GET',
    path: '/export/{format}',
    summary:
      'A domain’s links and rules as csv, json, jsonl, plain, apache, nginx, pages, bookmarks or sitemap; not again ' +
      'for If-None-Match with the tag of what is held.',
    role: 'viewer',
    query: schema.exportQuery,
    status: 200,
    limited: 'query',
  }),
  aboutExport: operation({
    method: 'GET',
    path: '/export/{format}/about',
    summary: 'What such a file would hold, what it could not say, and what is done with it.',
    role: 'viewer',
    query: schema.exportQuery,
    answer: schema.exportAbout,
    status: 200,
    limited: 'query',
  }),
}
