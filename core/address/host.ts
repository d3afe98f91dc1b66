// eslint-disable-next-line @typescript-eslint/triple-slash-reference
/// <reference path="./tr46.d.ts" />
import { toASCII, toUnicode } from 'tr46'

export type HostReading = { ok: true; host: string } | { ok: false; reason: 'empty' | 'not-a-host' }

const LDH_LABEL = /^(?!-)[a-z0-9_-]{1,63}(?<!-)$/

/**
 * 253 octets of a name (RFC 1035 §2.3.4), one dot at its end and a port: no host is longer, and none that is costs
 * work.
 */
export const MAX_HOST = 260

/**
 * A host as the table knows it: lower case, without port and one trailing dot, in A-labels
 * (RFC 9110 §4.2.3, UTS #46 non-transitional). Refuses what can be no host name.
 */
export function readHost(raw: string): HostReading {
  if (raw.length > MAX_HOST) return { ok: false, reason: 'not-a-host' }
  const text = raw.trim().replace(/:\d*$/, '').replace(/\.$/, '')
  if (text === '') return { ok: false, reason: 'empty' }
  if (isPlain(text)) return { ok: true, host: text.toLowerCase() }
  if (/^\[[0-9a-fA-F:.]+\]$/.test(text)) return { ok: true, host: text.toLowerCase() }
  const ascii = toASCII(text, {
    checkBidi: true,
    checkHyphens: false,
    checkJoiners: true,
    useSTD3ASCIIRules: false,
    verifyDNSLength: true,
    transitionalProcessing: false,
  })
  if (!ascii || !ascii.split('.').every((label) => LDH_LABEL.test(label))) return { ok: false, reason: 'not-a-host' }
  return { ok: true, host: ascii }
}

/**
 * A name of letters, digits and single hyphens: UTS #46 maps nothing of it but its capitals and its labels are valid,
 * so that most hosts need not go through its tables.
 */
const isPlain = (text: string) =>
  text.length <= 253 &&
  /^[A-Za-z0-9]+(?:-[A-Za-z0-9]+)*(?:\.[A-Za-z0-9]+(?:-[A-Za-z0-9]+)*)*$/.test(text) &&
  !/[^.]{64}/.test(text)

/** A host for people: U-labels where it has A-labels (UTS #46 ToUnicode). */
export function showHost(host: string): string {
  return host.includes('xn--') ? toUnicode(host).domain : host
}
