import * as schema from '../../../core/schemas'
import { operation } from '../operation'

/** Operations of what was not found, by name. */
export const misses = {
  listMisses: operation({
    method: 'GET',
    path: '/misses',
    summary: 'Requested paths that do not exist, with the links probably meant, most requested first.',
    role: 'viewer',
    query: schema.missListQuery,
    answer: schema.missList,
    status: 200,
  }),
  readMiss: operation({
    method: 'GET',
    path: '/misses/{id}',
    summary: 'One requested path that does not exist, with the number and origin of its requests.',
    role: 'viewer',
    answer: schema.missDetail,
    status: 200,
  }),
  rankPath: operation({
    method: 'POST',
    path: '/misses/rank',
    summary: 'Which links a path most likely means, each with its probability, and that of none.',
    role: 'viewer',
    body: schema.rankRequest,
    answer: schema.rankAnswer,
    status: 200,
  }),
  settleMisses: operation({
    method: 'POST',
    path: '/misses/settle',
    summary: 'Settle several misses in one go, all or none; as a preview, tell what each would have served.',
    role: 'editor',
    body: schema.settleRequest,
    answer: schema.settled,
    once: true,
    status: 200,
  }),
  tellOwner: operation({
    method: 'POST',
    path: '/misses/{id}/told',
    summary: 'Note that the owner of a page that carries the wrong address was told.',
    role: 'editor',
    body: schema.tellRequest,
    status: 204,
  }),
}
