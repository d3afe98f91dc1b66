import { z } from 'zod'
import * as schema from '../../../core/schemas'
import { operation } from '../operation'

/** Operations of visits, by name. */
export const traffic = {
  readTraffic: operation({
    method: 'GET',
    path: '/traffic',
    summary:
      'How many visits there were, when and by what; as CSV for “Accept: text/csv”, as a spreadsheet for its own type.',
    role: 'viewer',
    query: schema.trafficQuery,
    answer: schema.traffic,
    status: 200,
  }),
  readMovers: operation({
    method: 'GET',
    path: '/traffic/movers',
    summary: 'The links whose visits changed most, and since when.',
    role: 'viewer',
    query: schema.moversQuery,
    answer: schema.movers,
    status: 200,
  }),
  followTraffic: operation({
    method: 'GET',
    path: '/traffic/events',
    summary: 'Visits and cases as they come, as server-sent events.',
    role: 'viewer',
    answers: 'text/event-stream',
    status: 200,
  }),
  forgetRawVisits: operation({
    method: 'DELETE',
    path: '/links/{id}/visits',
    summary: 'Forget the visits of a link that are kept one by one; what was counted of them stays.',
    role: 'administrator',
    answer: z.object({ forgotten: z.int() }),
    status: 200,
  }),
  readPrivacyText: operation({
    method: 'GET',
    path: '/settings/privacy-text',
    summary: 'A text for the organisation’s privacy page, of the settings as they are.',
    role: 'viewer',
    answer: z.object({ text: z.string() }),
    status: 200,
  }),
}
