import { createHash, createSign, generateKeyPairSync, randomBytes } from 'node:crypto'
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest'
import type { MemberModel } from '../../server/database/models/member'
import type { SessionModel } from '../../server/database/models/session'
import { adoptPasskey, askPasskey, offerPasskey, passkeysOf, takePasskey } from '../../server/usecases/people/passkeys'
import { beginSession } from '../../server/usecases/people/sessions'
import { refusal, TestRegister } from './register'

const ORIGIN = 'https://desk.portansel.example'
const caller = { peer: '192.0.2.7', agent: 'tests', origin: ORIGIN }
const sha256 = (octets: string | Buffer) => createHash('sha256').update(octets).digest()

/** A software authenticator (WebAuthn Level 2 §6.1, §6.5.4 attestation “none”; keys as in RFC 9052). */
class Authenticator {
  private readonly keys = generateKeyPairSync('ec', { namedCurve: 'P-256' })
  private readonly id = randomBytes(16)
  counter = 0

  private data(party: string, flags: number, more = Buffer.alloc(0)): Buffer {
    const count = Buffer.alloc(4)
    count.writeUInt32BE(++this.counter)
    return Buffer.concat([sha256(party), Buffer.from([flags]), count, more])
  }
  private client = (type: string, challenge: string, origin: string) =>
    Buffer.from(JSON.stringify({ type, challenge, origin, crossOrigin: false }))

  create(challenge: string, { origin = ORIGIN, party = new URL(ORIGIN).hostname } = {}): unknown {
    const { x, y } = this.keys.publicKey.export({ format: 'jwk' }) as { x: string; y: string }
    // A COSE key: EC2, ES256, P-256, and its two coordinates.
    const key = Buffer.concat([
      Buffer.from('a501020326200121', 'hex'),
      Buffer.from('5820', 'hex'),
      Buffer.from(x, 'base64url'),
      Buffer.from('225820', 'hex'),
      Buffer.from(y, 'base64url'),
    ])
    const credential = Buffer.concat([Buffer.alloc(16), Buffer.from([0, this.id.length]), this.id, key])
    const data = this.data(party, 0x45, credential)
    const attestation = Buffer.concat([
      Buffer.from('a363666d74646e6f6e656761747453746d74a0686175746844617461', 'hex'),
      Buffer.from([0x58, data.length]),
      data,
    ])
    return this.answer({
      clientDataJSON: this.client('webauthn.create', challenge, origin).toString('base64url'),
      attestationObject: attestation.toString('base64url'),
      transports: ['internal'],
    })
  }

  sign(challenge: string, { origin = ORIGIN, party = new URL(ORIGIN).hostname } = {}): unknown {
    const client = this.client('webauthn.get', challenge, origin)
    const data = this.data(party, 0x05)
    const signature = createSign('sha256')
      .update(Buffer.concat([data, sha256(client)]))
      .sign(this.keys.privateKey)
    return this.answer({
      clientDataJSON: client.toString('base64url'),
      authenticatorData: data.toString('base64url'),
      signature: signature.toString('base64url'),
    })
  }

  private answer(response: object): unknown {
    const id = this.id.toString('base64url')
    return { id, rawId: id, type: 'public-key', response, clientExtensionResults: {} }
  }
}

let register: TestRegister
let member: MemberModel
let session: SessionModel
let number = 0
beforeAll(async () => (register = await TestRegister.start()))
afterAll(() => register.stop())
beforeEach(async () => {
  const email = `member${++number}@portansel.example`
  const about = { email, name: 'Ada', role: 'editor' as const, passwordHash: null, createdAt: new Date() }
  member = await register.db.Member.create(about)
  session = (await beginSession(register.db, member, 'tests', true)).session
})

const challengeOf = (options: object | undefined) => (options as { challenge: string }).challenge
const offer = async () => challengeOf(await offerPasskey(register.db, member, session, caller, 'Port Ansel Transit'))
const ask = async () => challengeOf(await askPasskey(register.db, member.id, session, caller))
const adopt = (credential: unknown) =>
  adoptPasskey(register.db, member, session, caller, { name: 'Laptop', credential })
const take = (given: unknown) => takePasskey(register.db, member.id, session, caller, given)

describe('a passkey', () => {
  it('is kept, and proves who somebody is', async () => {
    const authenticator = new Authenticator()
    await adopt(authenticator.create(await offer()))
    expect(await passkeysOf(register.db, member.id)).toMatchObject([{ name: 'Laptop', transports: ['internal'] }])
    expect(await take(authenticator.sign(await ask()))).toBe(true)
    expect((await passkeysOf(register.db, member.id))[0]!.counter).toBe(authenticator.counter)
  })

  it('is not kept for another challenge, origin or party, nor for a challenge that was used', async () => {
    const authenticator = new Authenticator()
    const bad = [
      async () => authenticator.create(randomBytes(32).toString('base64url')),
      async (challenge: string) => authenticator.create(challenge, { origin: 'https://desk.evil.example' }),
      async (challenge: string) => authenticator.create(challenge, { party: 'evil.example' }),
    ]
    for (const make of bad) {
      const challenge = await offer()
      expect((await refusal(adopt(await make(challenge)))).status).toBe(422)
      // The challenge went with the try.
      expect((await refusal(adopt(authenticator.create(challenge)))).status).toBe(422)
    }
    expect(await passkeysOf(register.db, member.id)).toEqual([])
  })

  it('proves nothing with another key, challenge or origin, an old counter, or a used challenge', async () => {
    const authenticator = new Authenticator()
    await adopt(authenticator.create(await offer()))
    expect(await take(new Authenticator().sign(await ask()))).toBe(false)
    await ask()
    expect(await take(authenticator.sign(randomBytes(32).toString('base64url')))).toBe(false)
    expect(await take(authenticator.sign(await ask(), { origin: 'https://desk.evil.example' }))).toBe(false)
    const challenge = await ask()
    const signed = authenticator.sign(challenge)
    expect(await take(signed)).toBe(true)
    expect(await take(signed)).toBe(false)
    // A copy of the authenticator that is behind (WebAuthn Level 2 §6.1.1).
    authenticator.counter = 0
    expect(await take(authenticator.sign(await ask()))).toBe(false)
  })

  it('is taken once by requests that come together', async () => {
    const authenticator = new Authenticator()
    await adopt(authenticator.create(await offer()))
    const challenge = await ask()
    const signed = [authenticator.sign(challenge), authenticator.sign(challenge), authenticator.sign(challenge)]
    const answers = await Promise.all(signed.map(take))
    expect(answers.filter(Boolean)).toHaveLength(1)
  })

  it('of somebody else proves nothing', async () => {
    const authenticator = new Authenticator()
    await adopt(authenticator.create(await offer()))
    const about = { email: `other${number}@portansel.example`, name: 'Bo', role: 'editor' as const }
    const other = await register.db.Member.create({ ...about, passwordHash: null, createdAt: new Date() })
    const theirs = (await beginSession(register.db, other, 'tests', true)).session
    await theirs.update({ challenge: 'abc' })
    expect(await takePasskey(register.db, other.id, theirs, caller, authenticator.sign('abc'))).toBe(false)
  })
})
