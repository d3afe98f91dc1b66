import { negativeTtl, type DnsName, type Observation } from '../../core/dns'
import type { DnsMessage } from '../../core/dns/wire'
import type { Asked } from './ask'

export interface Question {
  name: DnsName
  type: string
}

/** What a server's answer says of one question. */
export function observe(
  asked: Asked,
  role: Observation['role'],
  server: string,
  { name, type }: Question,
  at: number,
): Observation {
  const observation = (status: Observation['status'], data: string[] = [], ttl: number | null = null): Observation => ({
    role,
    server,
    name,
    type,
    status,
    data,
    ttl,
    firstAt: at,
    at,
  })
  if (!asked.ok) return observation(asked.reason === 'malformed' ? 'failed' : 'silent')
  const { message } = asked
  if (message.rcode === 'REFUSED' || message.rcode === 'NOTAUTH')
    return observation(role === 'authority' ? 'lame' : 'refused')
  if (message.rcode !== 'NOERROR' && message.rcode !== 'NXDOMAIN') return observation('failed')
  if (role === 'authority' && !message.aa) return observation('lame')
  // An issuer's question follows aliases (RFC 8659 §3); every other is about the name itself.
  const own = message.answer.filter((record) => record.name === name || type === 'CAA')
  const alias = type === 'CNAME' || type === 'CAA' ? undefined : own.find((record) => record.type === 'CNAME')
  if (alias) return observation('answered', [`CNAME ${alias.data}`], alias.ttl)
  const records = own.filter((record) => record.type === type)
  if (records.length === 0) return observation('none', [], negative(message))
  return observation(
    'answered',
    records.map((record) => record.data).sort(),
    Math.min(...records.map((record) => record.ttl)),
  )
}

/** How long "no such record" may be kept, by the SOA of the answer (RFC 2308 §5). */
function negative(message: DnsMessage): number | null {
  const soa = message.authority.find((record) => record.type === 'SOA')
  return soa ? negativeTtl({ name: soa.name, type: 'SOA', ttl: soa.ttl, data: soa.data }) : null
}
