import type { TsigKey } from '../../../../core/dns/wire'
import type { Maker } from './zones'

export const OWN = 'own.example.'
export const FIXED = 'fixed.example.'
export const NOWHERE = 'nowhere.example.'
export const FROZEN = 'frozen.example.'
export const FULL = 'full.example.'

/** A transfer or an update that must be refused, and told by its own cause. */
export interface Refusal {
  name: string
  /** The servers it is tried at. */
  at: readonly (Maker | string)[]
  origin: string
  key?: Partial<TsigKey> | null
  /** Our clock, in seconds ahead. */
  off?: number
  /** What Fides must say, and what dig or nsupdate says of the same. */
  says: RegExp
  does: RegExp
  /** What is done to the server meanwhile. */
  during?: 'frozen' | 'held'
}

const MAKERS: readonly Maker[] = ['named', 'knot', 'stand-ins']
const OTHER = { secret: Buffer.alloc(32, 12) }

export const TRANSFERS: readonly Refusal[] = [
  {
    name: 'without a key where one is asked',
    at: MAKERS,
    origin: OWN,
    key: null,
    says: /refuses to hand over/,
    does: /failed/,
  },
  {
    name: 'with a key it does not know (RFC 8945 §5.2.1)',
    at: MAKERS,
    origin: OWN,
    key: { name: 'nobody.' },
    says: /does not know .*key|BADKEY/,
    does: /BADKEY|NOTAUTH/,
  },
  {
    name: 'with another secret (RFC 8945 §5.2.2)',
    at: MAKERS,
    origin: OWN,
    key: OTHER,
    says: /secret/,
    does: /BADSIG|tsig/i,
  },
  {
    name: 'with our clock ahead (RFC 8945 §5.2.3)',
    at: MAKERS,
    origin: OWN,
    off: 1200,
    says: /differ by 20 minutes: the name server’s is behind/,
    does: /./,
  },
  {
    name: 'with our clock behind',
    at: MAKERS,
    origin: OWN,
    off: -1200,
    says: /differ by 20 minutes: the name server’s is ahead/,
    does: /./,
  },
  {
    name: 'of a zone it does not have',
    at: MAKERS,
    origin: NOWHERE,
    says: /NOTAUTH|REFUSED/,
    does: /failed|NOTAUTH|REFUSED/,
  },
  {
    name: 'of a zone it could never take over',
    at: ['never'],
    origin: OWN,
    says: /SERVFAIL|NOTAUTH|REFUSED/,
    does: /failed/,
  },
  {
    name: 'where nothing listens',
    at: ['nothing'],
    origin: OWN,
    says: /does not answer/,
    does: /refused|timed out|no servers/,
  },
  {
    name: 'from a resolver',
    at: ['unbound'],
    origin: OWN,
    key: null,
    says: /REFUSED|NOTIMP|NOTAUTH|ended the transfer/,
    does: /failed/,
  },
]

export const UPDATES: readonly Refusal[] = [
  {
    name: 'with a key it does not know (RFC 8945 §5.2.1)',
    at: MAKERS,
    origin: OWN,
    key: { name: 'nobody.' },
    says: /BADKEY/,
    does: /BADKEY/,
  },
  {
    name: 'with another secret (RFC 8945 §5.2.2)',
    at: MAKERS,
    origin: OWN,
    key: OTHER,
    says: /BADSIG/,
    does: /BADSIG/,
  },
  {
    name: 'with our clock ahead (RFC 8945 §5.2.3)',
    at: MAKERS,
    origin: OWN,
    off: 1200,
    says: /differ by 20 minutes: the name server’s is behind/,
    does: /^$/,
  },
  {
    name: 'with our clock behind',
    at: MAKERS,
    origin: OWN,
    off: -1200,
    says: /differ by 20 minutes: the name server’s is ahead/,
    does: /^$/,
  },
  {
    name: 'by its policy (RFC 2136 §3.3)',
    at: MAKERS,
    origin: FIXED,
    says: /update policy must allow the key desk-key|rules do not allow it/,
    does: /REFUSED|NOTAUTH|tsig indicates error/,
  },
  {
    name: 'of a zone it does not have (RFC 2136 §3.1.1)',
    at: MAKERS,
    origin: NOWHERE,
    says: /is not a name server of nowhere\.example|does not serve that zone/,
    does: /NOTAUTH|REFUSED/,
  },
  {
    name: 'at a secondary (RFC 2136 §6)',
    at: ['second', 'knot second', 'stand-in second'],
    origin: OWN,
    says: /ns1\.own\.example/,
    does: /NOTAUTH|REFUSED|tsig indicates error/,
  },
  {
    name: 'of a frozen zone',
    at: ['named'],
    origin: FROZEN,
    says: /must not be frozen|frozen/,
    does: /REFUSED/,
    during: 'frozen',
  },
  {
    name: 'where the journal cannot be written (RFC 2136 §3.5)',
    at: ['named'],
    origin: FULL,
    says: /journal cannot be written/,
    does: /SERVFAIL/,
  },
  {
    name: 'where nothing listens',
    at: ['nothing'],
    origin: OWN,
    says: /did not answer the update/,
    does: /refused|timed out|not reached|failed/i,
  },
  {
    name: 'where the server hangs',
    at: ['held'],
    origin: OWN,
    says: /did not answer/,
    does: /timed out|timeout/i,
    during: 'held',
  },
  {
    name: 'at a resolver',
    at: ['unbound'],
    origin: OWN,
    says: /does not take dynamic updates \(NOTIMP\)/,
    does: /NOTIMP|tsig verify failure/i,
  },
]
