import { createCipheriv, createDecipheriv, randomBytes } from 'node:crypto'

const NONCE = 12
const TAG = 16

/** Encrypts a secret for keeping (AES-256-GCM): nonce, tag, then the text. `about` binds it to what it belongs to. */
export function seal(key: Buffer, secret: Uint8Array, about: string): Buffer {
  const nonce = randomBytes(NONCE)
  const cipher = createCipheriv('aes-256-gcm', key, nonce).setAAD(Buffer.from(about))
  const body = Buffer.concat([cipher.update(secret), cipher.final()])
  return Buffer.concat([nonce, cipher.getAuthTag(), body])
}

/** Opens what `seal` made; `undefined` where the key or what it belongs to is another. */
export function unseal(key: Buffer, sealed: Buffer, about: string): Buffer | undefined {
  try {
    const cipher = createDecipheriv('aes-256-gcm', key, sealed.subarray(0, NONCE))
      .setAAD(Buffer.from(about))
      .setAuthTag(sealed.subarray(NONCE, NONCE + TAG))
    return Buffer.concat([cipher.update(sealed.subarray(NONCE + TAG)), cipher.final()])
  } catch {
    return undefined
  }
}
