import { connect, type PeerCertificate } from 'node:tls'
import type { Certificate } from '../../core/schemas'
import type { NamesContext } from './context'
import { addressesOf } from './reach'

const TIMEOUT_MS = 5000
const first = (value: unknown): string => String((Array.isArray(value) ? value[0] : value) ?? '')

const FAULTS: Record<string, string> = {
  CERT_HAS_EXPIRED: 'it has expired',
  ERR_TLS_CERT_ALTNAME_INVALID: 'it is for other names',
  DEPTH_ZERO_SELF_SIGNED_CERT: 'it signed itself, so no browser trusts it',
  SELF_SIGNED_CERT_IN_CHAIN: 'its chain ends in an authority no browser trusts',
  UNABLE_TO_VERIFY_LEAF_SIGNATURE: 'the chain to a trusted authority is not complete',
  UNABLE_TO_GET_ISSUER_CERT_LOCALLY: 'its authority is not known to browsers',
  CERT_NOT_YET_VALID: 'it is not valid yet',
}

/**
 * What the front serves for a host over TLS now: whose certificate, for which names, until when, and what is wrong with
 * it.
 */
export async function readCertificate(
  names: NamesContext,
  host: string,
  now: Date,
  pace?: () => Promise<void>,
): Promise<Certificate> {
  const blank = {
    answered: false,
    subject: '',
    issuer: '',
    names: [],
    validFrom: null,
    validTo: null,
    fault: null,
    at: now.toISOString(),
  }
  const addresses = await addressesOf(names, host, pace)
  if (!addresses)
    return { ...blank, sentence: 'No resolver answers, so it cannot be told where the certificate would be.' }
  const [address] = addresses
  if (!address)
    return { ...blank, sentence: `No resolver has an address for ${host} yet, so nothing serves a certificate for it.` }
  if (!names.mayAsk(address, 443))
    return { ...blank, sentence: `${host} leads to ${address}, which is not a public address.` }
  const way = names.way(address, 443)
  return new Promise((resolve) => {
    const silent = (why: string) => {
      socket.destroy()
      resolve({ ...blank, sentence: `${host} at ${address} ${why}; visitors of https://${host}/ get an error.` })
    }
    const socket = connect(
      { host: way.host, port: way.port, servername: host, rejectUnauthorized: false, timeout: TIMEOUT_MS },
      () => {
        // Thrown in this callback, a fault of the other side would end the process.
        try {
          const error = socket.authorizationError as unknown as { code?: string } | string | null
          const code = typeof error === 'string' ? error : error?.code
          resolve({ ...blank, ...readServed(host, socket.getPeerCertificate(), code) })
        } catch (error) {
          silent(`serves a certificate that cannot be read (${(error as Error).message.split('\n')[0]})`)
        }
        socket.destroy()
      },
    )
    socket.on('error', (error: NodeJS.ErrnoException) =>
      silent(
        error.code === 'ECONNREFUSED'
          ? 'refuses connections on port 443'
          : `does not speak TLS on port 443 (${error.code ?? error.message})`,
      ),
    )
    socket.on('timeout', () => silent('does not answer on port 443'))
  })
}

/** As OpenSSL prints a moment; a year of more digits is none that ISO 8601 writes without an agreement. */
const PRINTED = /^[A-Z][a-z]{2} [ \d]\d \d\d:\d\d:\d\d \d{4} GMT$/

/** A moment of a certificate as ISO 8601; `null` where it holds none that could be read. */
const momentOf = (text: unknown): string | null => {
  const moment = new Date(typeof text === 'string' && PRINTED.test(text) ? text : Number.NaN)
  return Number.isNaN(moment.getTime()) ? null : moment.toISOString()
}

/**
 * What a served certificate says, whatever it holds: fields of the wrong type, no names, dates beyond any calendar.
 * `code` is why browsers refuse it, by OpenSSL's or Node's name; `undefined` where they would not.
 */
export function readServed(
  host: string,
  served: Partial<PeerCertificate>,
  code: string | undefined,
): Omit<Certificate, 'at'> {
  const [validFrom, validTo] = [momentOf(served.valid_from), momentOf(served.valid_to)]
  const fault =
    code !== undefined
      ? (FAULTS[code] ?? `browsers refuse it (${code})`)
      : validFrom === null || validTo === null
        ? 'its dates cannot be read'
        : null
  const issuer = first(served.issuer?.O) || first(served.issuer?.CN)
  return {
    answered: true,
    subject: first(served.subject?.CN),
    issuer,
    names: String(served.subjectaltname ?? '')
      .split(', ')
      .filter((name) => name.startsWith('DNS:'))
      .map((name) => name.slice(4)),
    validFrom,
    validTo,
    fault,
    sentence:
      fault === null
        ? `${host} serves a certificate by ${issuer || 'an unnamed issuer'}, good until ${validTo!.slice(0, 10)}.`
        : `${host} serves a certificate that browsers refuse: ${fault}.`,
  }
}
