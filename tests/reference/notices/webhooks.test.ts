// Signed messages verify with the published library of Standard Webhooks (standardwebhooks, of the registry), and with
// no other secret, body, id or time.
import { randomBytes } from 'node:crypto'
import { Webhook, WebhookVerificationError } from 'standardwebhooks'
import { describe, expect, it } from 'vitest'
import { signWebhook } from '../../../server/usecases/notices/sign-webhook'

const secret = randomBytes(32)
const library = new Webhook(`whsec_${secret.toString('base64')}`)
const now = () => Math.floor(Date.now() / 1000)
const message = (more: Partial<{ id: string; timestamp: number; payload: string }> = {}) => ({
  id: 'msg_2b1',
  timestamp: now(),
  payload: JSON.stringify({ type: 'case.opened', timestamp: '2026-11-27T08:00:00.000Z', data: { 'ä 🚌': 'x' } }),
  ...more,
})

describe('a signed message', () => {
  it('verifies with the published library', () => {
    const sent = message()
    expect(library.verify(sent.payload, signWebhook(secret, sent))).toEqual(JSON.parse(sent.payload))
  })
  it('is signed as the library signs it', () => {
    const sent = message()
    expect(signWebhook(secret, sent)['webhook-signature']).toBe(
      library.sign(sent.id, new Date(sent.timestamp * 1000), sent.payload),
    )
  })
  it.each([
    ['another body', (fields: Record<string, string>) => [fields, '{}'] as const],
    ['another id', (fields: Record<string, string>) => [{ ...fields, 'webhook-id': 'msg_3' }, undefined] as const],
    [
      'another time',
      (fields: Record<string, string>) => [{ ...fields, 'webhook-timestamp': String(now() - 1) }, undefined] as const,
    ],
  ])('does not verify with %s', (_name, forge) => {
    const sent = message()
    const [fields, payload = sent.payload] = forge(signWebhook(secret, sent))
    expect(() => library.verify(payload, fields)).toThrow(WebhookVerificationError)
  })
  it('does not verify when it is old: nobody plays it again', () => {
    const sent = message({ timestamp: now() - 3600 })
    expect(() => library.verify(sent.payload, signWebhook(secret, sent))).toThrow(/too old/)
  })
  it('does not verify under another secret', () => {
    const sent = message()
    expect(() => library.verify(sent.payload, signWebhook(randomBytes(32), sent))).toThrow(WebhookVerificationError)
  })
})
