import createClient from 'openapi-fetch'
import type { paths } from './api'

/**
 * A typed client of the API, its types generated from the OpenAPI document. `desk` is the desk's address, `token` an
 * API token. Answers are `{ data }`, or `{ error }` with problem details (RFC 9457).
 */
export const makeClient = (desk: string, token: string) =>
  createClient<paths>({
    baseUrl: `${desk.replace(/\/$/, '')}/api/v1`,
    headers: { authorization: `Bearer ${token}` },
  })

/** A key for a request that may be sent again and is to be carried out once. */
export const onceKey = (key: string = crypto.randomUUID()) => ({ 'Idempotency-Key': JSON.stringify(key) })
