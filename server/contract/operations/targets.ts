import * as schema from '../../../core/schemas'
import { operation } from '../operation'

/** Operations about destinations: whether they answer, and how they are checked. */
export const targets = {
  askForChecks: operation({
    method: 'POST',
    path: '/checks',
    summary: 'Start checks for some links, a domain or all links.',
    role: 'editor',
    body: schema.checkRequest,
    answer: schema.checkRun,
    status: 202,
  }),
  readChecks: operation({
    method: 'GET',
    path: '/checks/{id}',
    summary: 'How far checks that were asked for are.',
    role: 'viewer',
    answer: schema.checkRun,
    status: 200,
  }),
  cancelChecks: operation({
    method: 'DELETE',
    path: '/checks/{id}',
    summary: 'Stop checks that were asked for; what was checked stays.',
    role: 'editor',
    status: 204,
  }),
  previewCheck: operation({
    method: 'POST',
    path: '/checks/preview',
    summary: 'Check a destination that nothing leads to yet, as a stranger; nothing is written.',
    role: 'editor',
    body: schema.checkPreviewRequest,
    answer: schema.checkPreview,
    status: 200,
  }),
  listChecks: operation({
    method: 'GET',
    path: '/links/{id}/checks',
    summary: 'The checks of a link’s destination, the newest first, each with its hops.',
    role: 'viewer',
    answer: schema.targetChecks,
    status: 200,
  }),
  readSettings: operation({
    method: 'GET',
    path: '/settings',
    summary: 'How destinations are checked, and when one counts as broken.',
    role: 'administrator',
    answer: schema.settings,
    status: 200,
  }),
  changeSettings: operation({
    method: 'PATCH',
    path: '/settings',
    summary: 'Change how destinations are checked.',
    role: 'administrator',
    body: schema.settingsPatch,
    answer: schema.settings,
    status: 200,
    ifMatch: true,
  }),
}
