import { z } from 'zod'
import { operation } from '../operation'

/** Operations of the service itself, by name. */
export const service = {
  readHealth: operation({
    method: 'GET',
    path: '/health',
    summary: 'One status per process and for the database.',
    role: 'stranger',
    answer: z.looseObject({ status: z.string(), stale: z.array(z.string()) }),
    status: 200,
  }),
  readOpenApi: operation({
    method: 'GET',
    path: '/openapi.json',
    summary: 'This document.',
    role: 'stranger',
    answer: z.looseObject({}),
    status: 200,
  }),
}
