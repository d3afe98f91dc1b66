import { MAX_ZONE_OCTETS } from '../../usecases/domains/bring-zone'
import * as schema from '../../../core/schemas'
import { operation } from '../operation'

/** Operations of zones, by name. */
export const zones = {
  putZone: operation({
    method: 'PUT',
    path: '/domains/{id}/zone',
    summary: 'Bring the zone as a master file.',
    role: 'administrator',
    text: { types: ['text/dns', 'text/plain'], most: MAX_ZONE_OCTETS },
    answer: schema.zoneView,
    status: 200,
  }),
  transferZone: operation({
    method: 'POST',
    path: '/domains/{id}/zone/transfer',
    summary: 'Take the zone from a name server (AXFR).',
    role: 'administrator',
    body: schema.transferRequest,
    answer: schema.zoneView,
    status: 200,
  }),
  askForZone: operation({
    method: 'POST',
    path: '/domains/{id}/zone/ask',
    summary: 'Ask the name servers for what can be seen of the zone.',
    role: 'administrator',
    answer: schema.zoneView,
    status: 200,
  }),
  zoneBefore: operation({
    method: 'GET',
    path: '/domains/{id}/zone/before',
    summary: 'The zone as it was brought.',
    role: 'viewer',
    answers: 'text/dns',
    status: 200,
  }),
  zoneAfter: operation({
    method: 'GET',
    path: '/domains/{id}/zone/after',
    summary: 'The zone with the whole plan in it.',
    role: 'viewer',
    answers: 'text/dns',
    status: 200,
  }),
}
