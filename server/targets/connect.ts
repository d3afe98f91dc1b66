import { connect as connectTcp, isIP, type Socket } from 'node:net'
import { connect as connectTls, type SecureContext } from 'node:tls'
import { certificateFault, type HopCertificate } from '../../core/targets'
import { readServed } from '../names/certificate'

/** A certificate that browsers refuse: nothing is asked over it. */
export class CertificateRefused extends Error {
  constructor(readonly certificate: HopCertificate | null) {
    super('the certificate is refused')
  }
}

/** A connection with the certificate it was made with. */
export interface Connection {
  socket: Socket
  certificate: HopCertificate | null
}

/**
 * Connects to a vetted address for a host; over TLS under the host’s name, with the certificate judged as browsers do.
 * Rejects with the system’s error, `CertificateRefused`, or an error named TimeoutError.
 */
export function connectTo(
  to: { host: string; port: number },
  hostname: string,
  { tls, timeoutMs, trust }: { tls: boolean; timeoutMs: number; trust?: SecureContext },
): Promise<Connection> {
  return new Promise((resolve, reject) => {
    let done = false
    const end = (act: () => void) => {
      if (done) return
      done = true
      clearTimeout(timer)
      act()
    }
    const fail = (error: Error) =>
      end(() => {
        socket.destroy()
        reject(error)
      })
    const timer = setTimeout(() => fail(Object.assign(new Error('no answer'), { name: 'TimeoutError' })), timeoutMs)
    const bare = hostname.startsWith('[') ? hostname.slice(1, -1) : hostname
    const socket = tls
      ? connectTls({
          host: to.host,
          port: to.port,
          servername: isIP(bare) === 0 ? bare : '',
          rejectUnauthorized: false,
          secureContext: trust,
          ALPNProtocols: ['http/1.1'],
        })
      : connectTcp({ host: to.host, port: to.port })
    socket.setNoDelay(true)
    socket.once('error', fail)
    if (!tls) return socket.once('connect', () => end(() => resolve({ socket, certificate: null })))
    socket.once('secureConnect', () => {
      // Thrown in this callback, a fault of the other side would end the process.
      try {
        const certificate = readCertificate(bare, socket as ReturnType<typeof connectTls>)
        if (certificate.fault === null) end(() => resolve({ socket, certificate }))
        else fail(new CertificateRefused(certificate))
      } catch {
        fail(new CertificateRefused(null))
      }
    })
  })
}

function readCertificate(host: string, socket: ReturnType<typeof connectTls>): HopCertificate {
  const error = socket.authorizationError as unknown as { code?: string } | string | null
  const code = typeof error === 'string' ? error : error?.code
  const peer = socket.getPeerCertificate()
  const { subject, issuer, names, validFrom, validTo } = readServed(host, peer, code)
  return {
    subject,
    issuer,
    names: names.slice(0, 20),
    validFrom,
    validTo,
    fault: certificateFault({
      code,
      nameMatches: code !== 'ERR_TLS_CERT_ALTNAME_INVALID',
      rsaBits: peer.modulus === undefined ? undefined : peer.bits,
    }),
  }
}
