import 'reflect-metadata'
import { spawn, spawnSync, type ChildProcess } from 'node:child_process'
import { webcrypto } from 'node:crypto'
import { mkdirSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { cryptoProvider, PemConverter, SubjectAlternativeNameExtension, X509CertificateGenerator } from '@peculiar/x509'
import { Agent, request } from 'undici'

const EC = { name: 'ECDSA', namedCurve: 'P-256', hash: 'SHA-256' } as const
const DAY_MS = 86_400_000
const PATIENCE_MS = 20_000

/** A certificate authority of one's own machine (Debian's package pebble), for demonstrations and tests. */
export interface Pebble {
  /** Its directory (RFC 8555 §7.1.1), and the file of the certificate it is trusted by. */
  directory: string
  rootFile: string
  /** The root of the certificates it gives, in PEM; it makes one anew at each start. */
  issuer(): Promise<string>
  stop(): Promise<void>
}

export interface PebblePlace {
  folder: string
  port: number
  managementPort: number
  /** Where it challenges names: the front's ports. */
  httpPort: number
  httpsPort: number
  /** The resolver it asks; without one it takes every name the front asks for, unchallenged. */
  resolver?: string
  /** How long its certificates are good. */
  validSeconds?: number
}

export const hasPebble = (): boolean => spawnSync('pebble', ['-version'], { stdio: 'ignore' }).error === undefined

/** A certificate for the authority's own address, signed by itself. */
async function selfSigned(): Promise<{ cert: string; key: string }> {
  cryptoProvider.set(webcrypto as never)
  const keys = await webcrypto.subtle.generateKey(EC, true, ['sign', 'verify'])
  const cert = await X509CertificateGenerator.createSelfSigned({
    serialNumber: '01',
    name: 'CN=localhost',
    notBefore: new Date(Date.now() - DAY_MS),
    notAfter: new Date(Date.now() + 3650 * DAY_MS),
    signingAlgorithm: EC,
    keys: keys as never,
    extensions: [
      new SubjectAlternativeNameExtension([
        { type: 'dns', value: 'localhost' },
        { type: 'ip', value: '127.0.0.1' },
      ]),
    ],
  })
  const key = PemConverter.encode(await webcrypto.subtle.exportKey('pkcs8', keys.privateKey), 'PRIVATE KEY')
  return { cert: cert.toString('pem'), key }
}

/** Starts it and waits until it answers. */
export async function startPebble(place: PebblePlace): Promise<Pebble> {
  mkdirSync(place.folder, { recursive: true, mode: 0o700 })
  const own = await selfSigned()
  const file = (name: string, text: string) => {
    const path = join(place.folder, name)
    writeFileSync(path, text, { mode: 0o600 })
    return path
  }
  const rootFile = file('pebble.pem', own.cert)
  const configuration = file(
    'pebble.json',
    JSON.stringify({
      pebble: {
        listenAddress: `127.0.0.1:${place.port}`,
        managementListenAddress: `127.0.0.1:${place.managementPort}`,
        certificate: rootFile,
        privateKey: file('pebble.key', own.key),
        httpPort: place.httpPort,
        tlsPort: place.httpsPort,
        ...(place.validSeconds && { certificateValidityPeriod: place.validSeconds }),
      },
    }),
  )
  const child: ChildProcess = spawn(
    'pebble',
    ['-config', configuration, ...(place.resolver ? ['-dnsserver', place.resolver] : [])],
    {
      stdio: 'ignore',
      env: {
        ...process.env,
        PEBBLE_VA_NOSLEEP: '1',
        PEBBLE_WFE_NONCEREJECT: '0',
        ...(place.resolver === undefined && { PEBBLE_VA_ALWAYS_VALID: '1' }),
      },
    },
  )
  const ended = new Promise<void>((resolve) => child.once('exit', () => resolve()))
  // It must not outlive who started it.
  process.once('exit', () => child.kill('SIGKILL'))
  const dispatcher = new Agent({ connect: { ca: own.cert } })
  const get = async (url: string) => (await request(url, { dispatcher })).body.text()
  const directory = `https://127.0.0.1:${place.port}/dir`
  const give = Date.now() + PATIENCE_MS
  while (!(await get(directory).catch(() => ''))) {
    if (Date.now() > give || child.exitCode !== null) throw new Error('pebble did not answer')
    await new Promise((resolve) => setTimeout(resolve, 50))
  }
  return {
    directory,
    rootFile,
    issuer: () => get(`https://127.0.0.1:${place.managementPort}/roots/0`),
    async stop() {
      if (!dispatcher.closed) await dispatcher.close()
      if (child.exitCode === null && child.signalCode === null) child.kill('SIGTERM')
      await ended
    },
  }
}
