import { createHmac } from 'node:crypto'

interface Message {
  /** Stays the same over all tries, so that it counts once. */
  id: string
  /** Seconds since 1970 of this try. */
  timestamp: number
  payload: string
}

/**
 * The fields a signed webhook goes with, as Standard Webhooks 1.0 has them: HMAC-SHA256 over id, timestamp and payload
 * by the octets of the secret.
 */
export function signWebhook(secret: Uint8Array, { id, timestamp, payload }: Message): Record<string, string> {
  const signature = createHmac('sha256', secret).update(`${id}.${timestamp}.${payload}`).digest('base64')
  return { 'webhook-id': id, 'webhook-timestamp': String(timestamp), 'webhook-signature': `v1,${signature}` }
}
