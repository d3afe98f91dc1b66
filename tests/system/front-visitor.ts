import { request as httpRequest } from 'node:http'
import { connect as http2Connect } from 'node:http2'
import { connect, type PeerCertificate } from 'node:tls'
import type { FrontSettings } from '../../scripts/front'

interface Handshake {
  certificate: PeerCertificate
  protocol: string | null
  alpn: string | false | null
}

/** A visitor of the front, who trusts the authority as browsers trust theirs. */
export function makeVisitor(settings: FrontSettings, issuer: string) {
  /** A handshake as a browser does it that trusts the authority; rejects where there is no certificate it takes. */
  const handshake = (host: string): Promise<Handshake> =>
    new Promise((resolve, reject) => {
      const socket = connect(
        {
          host: '127.0.0.1',
          port: settings.FIDES_FRONT_HTTPS_PORT,
          servername: host,
          ca: issuer,
          ALPNProtocols: ['h2', 'http/1.1'],
          timeout: 20_000,
        },
        () => {
          resolve({
            certificate: socket.getPeerCertificate(),
            protocol: socket.getProtocol(),
            alpn: socket.alpnProtocol,
          })
          socket.destroy()
        },
      )
      socket.on('error', reject).on('timeout', () => socket.destroy(new Error('no handshake')))
    })

  /** A request over HTTP/2. */
  const secure = (host: string, path: string, more: Record<string, string> = {}): Promise<Record<string, unknown>> =>
    new Promise((resolve, reject) => {
      const session = http2Connect(`https://${host}:${settings.FIDES_FRONT_HTTPS_PORT}`, {
        ca: issuer,
        lookup: (_name, _options, found) =>
          (found as (e: null, a: object[]) => void)(null, [{ address: '127.0.0.1', family: 4 }]),
      })
      session.on('error', reject)
      const sent = session.request({ ':path': path, ':authority': host, ...more })
      sent.on('response', (headers) => resolve(headers)).on('error', reject)
      sent
        .on('close', () => session.close())
        .resume()
        .end()
    })

  const plain = (host: string, path: string): Promise<{ status: number; location?: string }> =>
    new Promise((resolve, reject) => {
      httpRequest({ host: '127.0.0.1', port: settings.FIDES_FRONT_HTTP_PORT, path, headers: { host } }, (response) =>
        response
          .resume()
          .on('end', () => resolve({ status: response.statusCode!, location: response.headers.location })),
      )
        .on('error', reject)
        .end()
    })

  return { handshake, secure, plain }
}
