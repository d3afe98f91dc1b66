import 'reflect-metadata'
import { webcrypto } from 'node:crypto'
import {
  BasicConstraintsExtension,
  cryptoProvider,
  PemConverter,
  SubjectAlternativeNameExtension,
  X509CertificateGenerator,
  type X509Certificate,
} from '@peculiar/x509'

cryptoProvider.set(webcrypto as never)

const EC = { name: 'ECDSA', namedCurve: 'P-256', hash: 'SHA-256' } as const
const RSA = (bits: number) =>
  ({
    name: 'RSASSA-PKCS1-v1_5',
    hash: 'SHA-256',
    publicExponent: new Uint8Array([1, 0, 1]),
    modulusLength: bits,
  }) as const
const DAY_MS = 86_400_000

/** A certificate with its key, in PEM. */
export interface Served {
  cert: string
  key: string
}

/** What a host serves; all but the first are refused by browsers. */
export type CertificateKind = 'sound' | 'expired' | 'not-yet' | 'wrong-host' | 'self-signed' | 'unknown-issuer' | 'weak'

interface Keys {
  publicKey: CryptoKey
  privateKey: CryptoKey
}

const makeKeys = async (weak: boolean) =>
  (await webcrypto.subtle.generateKey(weak ? RSA(1024) : EC, true, ['sign', 'verify'])) as unknown as Keys

const keyPem = async (keys: Keys) =>
  PemConverter.encode(await webcrypto.subtle.exportKey('pkcs8', keys.privateKey as never), 'PRIVATE KEY')

/** A certificate authority of the stand-ins’ own: nobody knows it who was not told. */
export class Authority {
  private serial = 1

  private constructor(
    private readonly keys: Keys,
    readonly certificate: X509Certificate,
  ) {}

  static async make(name: string, now = Date.now()): Promise<Authority> {
    const keys = await makeKeys(false)
    const certificate = await X509CertificateGenerator.createSelfSigned({
      serialNumber: '01',
      name: `CN=${name}`,
      notBefore: new Date(now - 400 * DAY_MS),
      notAfter: new Date(now + 3650 * DAY_MS),
      signingAlgorithm: EC,
      keys: keys as never,
      extensions: [new BasicConstraintsExtension(true, 1, true)],
    })
    return new Authority(keys, certificate)
  }

  get pem(): string {
    return this.certificate.toString('pem')
  }

  /** Issues what a host of these names serves. */
  async issue(names: readonly string[], kind: CertificateKind, now = Date.now()): Promise<Served> {
    const keys = await makeKeys(kind === 'weak')
    const [from, to] =
      kind === 'expired' ? [-400, -9] : kind === 'not-yet' ? [12, 400] : ([-30, 60] as [number, number])
    const named = kind === 'wrong-host' ? ['other-host.example'] : [...names]
    const common = {
      serialNumber: (++this.serial).toString(16).padStart(4, '0'),
      notBefore: new Date(now + from * DAY_MS),
      notAfter: new Date(now + to * DAY_MS),
      extensions: [new SubjectAlternativeNameExtension(named.map((value) => ({ type: 'dns' as const, value })))],
    }
    const algorithm = kind === 'weak' ? RSA(1024) : EC
    const certificate =
      kind === 'self-signed'
        ? await X509CertificateGenerator.createSelfSigned({
            ...common,
            name: `CN=${named[0]}`,
            signingAlgorithm: algorithm as never,
            keys: keys as never,
          })
        : await X509CertificateGenerator.create({
            ...common,
            subject: `CN=${named[0]}`,
            issuer: this.certificate.subject,
            signingAlgorithm: EC,
            publicKey: keys.publicKey as never,
            signingKey: this.keys.privateKey as never,
          })
    return { cert: certificate.toString('pem'), key: await keyPem(keys) }
  }
}
