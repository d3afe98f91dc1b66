import { createHmac, timingSafeEqual } from 'node:crypto'

const mark = (secret: Buffer, purpose: string): Buffer => createHmac('sha256', secret).update(purpose).digest()

/** A key that opens one thing without signing in: its number, and a mark of what it is for. */
export const signedKey = (secret: Buffer, id: number, purpose: string): string =>
  `${id}.${mark(secret, purpose).toString('base64url')}`

/** The number a key names, whether or not it is a true one. */
export const idOfKey = (key: string): number => Number(key.split('.')[0])

/** Whether a key was made for this purpose. */
export function isSignedFor(secret: Buffer, key: string, purpose: string): boolean {
  const octets = Buffer.from(key.split('.')[1] ?? '', 'base64url')
  const right = mark(secret, purpose)
  return octets.length === right.length && timingSafeEqual(octets, right)
}
