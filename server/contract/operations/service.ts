import { z } from 'zod'
import { operation } from '../operation'

/** Operations of the service itself, by name. */
export const service = {
  readHealth: operation({
    method: 'GET',
    path: '/health',
    summary: 'Health status. Members also see problems; administrators also see each process.',
    role: 'stranger',
    answer: z.looseObject({ status: z.string(), stale: z.array(z.string()).optional() }),
    status: 200,
    limited: 'nothing',
  }),
  readOpenApi: operation({
    method: 'GET',
    path: '/openapi.json',
    summary: 'This document.',
    role: 'stranger',
    answer: z.looseObject({}),
    status: 200,
    limited: 'nothing',
  }),
}
