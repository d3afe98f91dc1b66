import { hostOfName, readSoa, type DnsName } from '../../core/dns'
import type { TsigKey } from '../../core/dns/wire'
import { ask, type ServerAddress } from './ask'

interface Refusal {
  ok: false
  reason: 'key' | 'refused'
  sentence: string
}

/** Which server a zone's SOA names as its primary, as a sentence of its own; empty where it cannot be told. */
export async function primaryHint(server: ServerAddress, { origin }: { origin: DnsName }): Promise<string> {
  const asked = await ask(server, origin, 'SOA')
  const soa = asked.ok ? asked.message.answer.find(({ type, name }) => type === 'SOA' && name === origin) : undefined
  return soa ? ` By the zone’s SOA its primary is ${hostOfName(readSoa(soa).primary)}; only that takes updates.` : ''
}

/**
 * Says what a name server that refused a signed update meant (RFC 2136 §2.2, §3.1–3.3; RFC 8945 §5.2), each by its own
 * cause, and where to look. Asks it for the zone's SOA, which names the primary.
 */
export async function refusalOf(server: ServerAddress, rcode: string, origin: DnsName, key: TsigKey): Promise<Refusal> {
  const at = `${server.host} port ${server.port}`
  const zone = hostOfName(origin)
  const asked = await ask(server, origin, 'SOA')
  const soa = asked.ok ? asked.message.answer.find(({ type, name }) => type === 'SOA' && name === origin) : undefined
  const serves = asked.ok && asked.message.aa && soa !== undefined
  const primary = soa && hostOfName(readSoa(soa).primary)
  const elsewhere = primary ? ` The zone’s SOA names ${primary} as its primary: give that server for updates.` : ''
  const refused = (sentence: string): Refusal => ({ ok: false, reason: 'refused', sentence })
  switch (rcode) {
    case 'NOTAUTH':
      return serves
        ? refused(`${at} serves ${zone} but takes no updates of it (NOTAUTH), as a secondary does.${elsewhere}`)
        : refused(`${at} is not a name server of ${zone} (NOTAUTH).${elsewhere}`)
    case 'REFUSED':
      return refused(
        serves
          ? `${at} refuses the update of ${zone} (REFUSED): its update policy must allow the key ` +
              `${hostOfName(key.name)} these names and types, the zone must not be frozen, and the server must be ` +
              `its primary${primary ? `, ${primary} by its SOA` : ''}.`
          : `${at} refuses the update of ${zone} (REFUSED), and does not serve that zone.${elsewhere}`,
      )
    case 'SERVFAIL':
      return refused(
        `${at} failed at the update of ${zone} (SERVFAIL): often the zone’s file or journal cannot be written, or a ` +
          'secondary could not pass it on. Its own log says which; nothing is known to have changed.',
      )
    case 'NOTZONE':
      return refused(`${at} says a record of the change lies outside ${zone} (NOTZONE). Read the zone again.`)
    case 'FORMERR':
      return refused(`${at} cannot read the update (FORMERR); it may not know a record type of the change.`)
    case 'NOTIMP':
      return refused(`${at} does not take dynamic updates (NOTIMP). Place the records by hand.`)
    default:
      return refused(`${at} refuses the update of ${zone} (${rcode}).`)
  }
}
