import {
  hostOfName,
  isAtOrBelow,
  lookup,
  makeZone,
  NEW_TTL,
  targetName,
  typesWhere,
  zoneAfter,
  type DnsRecord,
  type Zone,
} from '../../../../core/dns'
import type { RecordChange } from '../../../../core/dns/wire'
import { toRecordView } from '../../../usecases/domains/domain-zone'
import { liveSets, placeRecords } from '../../../usecases/domains/push-records'
import { remedyView, type ComposedRemedy } from '../../remedy'
import { byHand, type Context } from './context'

const POINTING = typesWhere(({ points, asked }) => points && asked === 'name and wildcard')

/** Puts the records that lead here back, by dynamic update, over what the update server gives now. */
export async function placeBack(context: Context): Promise<ComposedRemedy[]> {
  const { overview, opened, names } = context
  if (!opened) return []
  const there = await liveSets(
    names,
    opened,
    POINTING.map((type) => ({ name: overview.name, type })),
  )
  if (!there) return []
  const wanted = overview.plan.needed.pointing
  const keeps = new Set(wanted.map((record) => `${record.type} ${record.data}`))
  const wish: RecordChange = {
    remove: there.filter((record) => !keeps.has(`${record.type} ${record.data}`)),
    add: wanted.filter((record) => !there.some((old) => old.type === record.type && old.data === record.data)),
  }
  if (wish.add.length + wish.remove.length === 0) return []
  return [
    pushing(context, {
      id: 'put-back',
      title: 'Restore the records',
      sentence:
        `${opened.server} is sent ${describe(wish)} by dynamic update, on condition that nobody changed them ` +
        'meanwhile.',
      there,
      wish,
      wanted,
    }),
  ]
}

/** Stands addresses in for a CNAME whose target is gone. */
export async function placeAddresses(context: Context): Promise<ComposedRemedy[]> {
  const { overview, opened, names } = context
  const { ipv4, ipv6 } = names.gateway
  const target = overview.plan.needed.pointing[0]
  const tellOperator: ComposedRemedy = {
    view: remedyView({
      id: 'give-address-back',
      title: 'Give the gateway’s name its address back',
      sentence:
        `${target ? hostOfName(targetName(target)!) : 'The gateway’s name'} must have an address; have its ` +
        'operator place it again.',
      visitsKept: context.impact,
    }),
  }
  if (ipv4.length + ipv6.length === 0) return [tellOperator]
  const record = (type: string, data: string): DnsRecord => ({ name: overview.name, type, ttl: NEW_TTL, data })
  const wanted = [...ipv4.map((address) => record('A', address)), ...ipv6.map((address) => record('AAAA', address))]
  const there = opened
    ? await liveSets(
        names,
        opened,
        POINTING.map((type) => ({ name: overview.name, type })),
      )
    : undefined
  if (!opened || !there)
    return [
      tellOperator,
      byHand(context, 'Place addresses instead of the CNAME', 'Take the CNAME away and set these records:', wanted),
    ]
  return [
    tellOperator,
    pushing(context, {
      id: 'place-addresses',
      title: 'Place addresses instead of the CNAME',
      sentence: `${opened.server} is sent the gateway’s addresses in place of the CNAME.`,
      there,
      wish: { remove: there, add: wanted },
      wanted,
    }),
  ]
}

export async function letIssuerIn(context: Context): Promise<ComposedRemedy[]> {
  const { overview, opened, names } = context
  const owner = overview.caa.owner
  const [issuer] = names.gateway.issuers
  if (!owner || !issuer) return []
  const wanted: DnsRecord[] = [{ name: owner, type: 'CAA', ttl: NEW_TTL, data: `0 issue "${issuer}"` }]
  const manual = byHand(
    context,
    'Allow the issuer in CAA by hand',
    `Add this record beside the CAA records at ${hostOfName(owner)}:`,
    wanted,
  )
  if (!opened || !isAtOrBelow(owner, overview.zone.origin)) return [manual]
  const there = await liveSets(names, opened, [{ name: owner, type: 'CAA' }])
  if (!there) return [manual]
  return [
    pushing(context, {
      id: 'let-issuer-in',
      title: 'Allow the issuer in CAA',
      sentence:
        `${opened.server} receives one CAA record for ${issuer}; the existing records stay, so other issuers ` +
        'remain allowed.',
      there,
      wish: { remove: [], add: wanted },
      wanted,
    }),
    manual,
  ]
}

interface Pushing {
  id: string
  title: string
  sentence: string
  there: DnsRecord[]
  wish: RecordChange
  wanted: readonly DnsRecord[]
}

/** A remedy by dynamic update. Verified by looking its records up in the sets as they are now, with the change made. */
function pushing(context: Context, { id, title, sentence, there, wish, wanted }: Pushing): ComposedRemedy {
  const { overview, domain, opened } = context
  const after = zoneAfter(withTop(there), wish)
  const answers = wanted.map((record) => ({
    record,
    found: lookup(after, record.name, record.type).answer.some(
      (answer) => answer.type === record.type && answer.data === record.data,
    ),
  }))
  if (!answers.every(({ found }) => found))
    return byHand(context, title, 'It cannot be made sure that this helps; place the records by hand:', wanted)
  const verified =
    `Looked up in the sets as ${opened!.server} gives them now, with this change made: ` +
    `${[...new Set(wanted.map((record) => hostOfName(record.name)))].join(', ')} answers ` +
    `${wanted.map((record) => `${record.type} ${record.data}`).join(', ')}.`
  return {
    view: remedyView({
      id,
      title,
      sentence,
      verified,
      applies: true,
      undoable: true,
      records: wish.add.map(toRecordView),
      visitsKept: context.impact,
    }),
    apply: async (actor) => {
      const { db, names } = context
      const { origin } = overview.zone
      const { problem, push } = await placeRecords(db, names, actor, domain, opened!, origin, there, wish, 'remedy')
      if (problem) throw problem
      return push.sentence
    },
  }

  function withTop(records: readonly DnsRecord[]): Zone {
    const { zone } = overview
    return makeZone(zone.origin, [...zone.set(zone.origin, 'SOA'), ...zone.set(zone.origin, 'NS'), ...records])
  }
}

const describe = (change: RecordChange) =>
  [
    change.add.length > 0 && `${change.add.map((record) => `${record.type} ${record.data}`).join(', ')} to place`,
    change.remove.length > 0 &&
      `${change.remove.map((record) => `${record.type} ${record.data}`).join(', ')} to remove`,
  ]
    .filter(Boolean)
    .join(' and ')
