import { defineEventHandler } from 'h3'
import { isStream } from '../contract/methods-at'

/**
 * HEAD of the API is GET without a body (RFC 9110 §9.3.2): Node.js leaves the body out of what began as HEAD. A stream
 * of events has no end and answers GET alone.
 */
export default defineEventHandler((event) => {
  if (event.method !== 'HEAD' || !event.path.startsWith('/api/') || isStream(event.path.split('?')[0]!)) return
  event.node.req.method = 'GET'
  ;(event as { _method?: string })._method = 'GET'
})
