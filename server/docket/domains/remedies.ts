import {
  hostOfName,
  isAtOrBelow,
  lookup,
  makeZone,
  NEW_TTL,
  readSoa,
  targetName,
  zoneAfter,
  type DnsRecord,
  type Zone,
} from '../../../core/dns'
import type { RecordChange } from '../../../core/dns/wire'
import type { Remedy, RemedyRequest } from '../../../core/schemas'
import type { Database } from '../../database/open'
import type { DocketCaseModel } from '../../database/models/docket-case'
import type { DomainModel } from '../../database/models/domain'
import { ask } from '../../names/ask'
import type { NamesContext } from '../../names/context'
import { checkReach } from '../../names/reach'
import { writeCase } from '../../usecases/docket/case-state'
import { change, type Actor } from '../../usecases/ledger/change'
import { readSight, type DomainSight } from '../../usecases/domains/domain-sight'
import { tellRecord } from '../../usecases/domains/domain-zone'
import { lookNow } from '../../usecases/domains/domain-observations'
import { liveSets, placeRecords } from '../../usecases/domains/push-records'
import { readUpdateKey, type OpenedKey } from '../../usecases/domains/update-key'

/** A remedy as it is told, and what applying it does; that gives a sentence. */
export interface ComposedRemedy {
  told: Remedy
  apply?: (actor: Actor, request?: RemedyRequest) => Promise<string>
}

const POINTING = ['A', 'AAAA', 'CNAME'] as const

/** The remedies of a case of the Domains lane, worked out and verified now. */
export async function composeRemedies(
  db: Database,
  names: NamesContext,
  row: DocketCaseModel,
): Promise<ComposedRemedy[]> {
  const domain = row.domainId === null ? null : await db.Domain.findByPk(row.domainId)
  if (!domain) return []
  const sight = await readSight(db, names, domain, new Date())
  const context: Context = {
    db,
    names,
    row,
    domain,
    sight,
    impact: Number(row.impact),
    opened: await openKey(db, names, domain),
  }
  switch (row.kind) {
    case 'record-gone':
    case 'address-changed':
      return [
        ...(await placeBack(context)),
        byHand(context, 'Place the records by hand', 'At the provider of the zone, set these records again:'),
        lookAgain(context),
      ]
    case 'one-server-changed':
      return [...(await placeBack(context)), await catchUp(context), lookAgain(context)]
    case 'cname-dangling':
      return [...(await placeAddresses(context)), lookAgain(context)]
    case 'caa-shuts-out':
      return [...(await letIssuerIn(context)), lookAgain(context)]
    case 'resolver-late':
      return [waitForLapse(context), lookAgain(context)]
    case 'renewal-due':
      return [
        {
          told: remedy({
            title: 'Renew it, then note the new date',
            sentence: `Renew ${domain.host} at ${domain.registrar || 'its registrar'} and enter the date it then runs out.`,
            to: `/domains/${domain.id}?tab=renewal`,
            visitsKept: context.impact,
          }),
        },
      ]
    case 'server-lame':
      return [
        {
          told: remedy({
            title: 'Mend the name server, or take it out of the zone',
            sentence: `Have ${row.subject} serve the zone again, or take its NS record out of the zone and out of the registration.`,
            to: `/domains/${domain.id}`,
          }),
        },
        lookAgain(context),
      ]
    default:
      return [await seeFront(context), lookAgain(context)]
  }
}

interface Context {
  db: Database
  names: NamesContext
  row: DocketCaseModel
  domain: DomainModel
  sight: DomainSight
  impact: number
  opened: OpenedKey | undefined
}

const openKey = (db: Database, names: NamesContext, domain: DomainModel) =>
  readUpdateKey(db, names, domain).catch(() => undefined)

const remedy = (given: Partial<Remedy> & Pick<Remedy, 'title' | 'sentence'>): Remedy => ({
  verified: '',
  applies: false,
  undoable: false,
  to: null,
  records: [],
  asks: [],
  proposed: null,
  visitsKept: 0,
  ...given,
})

/** Puts the records that lead here back, by dynamic update, over what the update server gives now. */
async function placeBack(context: Context): Promise<ComposedRemedy[]> {
  const { sight, opened, names } = context
  if (!opened) return []
  const there = await liveSets(
    names,
    opened,
    POINTING.map((type) => ({ name: sight.name, type })),
  )
  if (!there) return []
  const wanted = sight.plan.needed.pointing
  const keeps = new Set(wanted.map((record) => `${record.type} ${record.data}`))
  const wish: RecordChange = {
    remove: there.filter((record) => !keeps.has(`${record.type} ${record.data}`)),
    add: wanted.filter((record) => !there.some((old) => old.type === record.type && old.data === record.data)),
  }
  if (wish.add.length + wish.remove.length === 0) return []
  return [
    pushing(context, {
      title: 'Put the records back',
      sentence: `${opened.server} is sent ${describe(wish)} by dynamic update, on condition that nobody changed them meanwhile.`,
      there,
      wish,
      wanted,
    }),
  ]
}

/** Stands addresses in for a CNAME whose target is gone. */
async function placeAddresses(context: Context): Promise<ComposedRemedy[]> {
  const { sight, opened, names } = context
  const { ipv4, ipv6 } = names.gateway
  const target = sight.plan.needed.pointing[0]
  const tellOperator: ComposedRemedy = {
    told: remedy({
      title: 'Give the gateway’s name its address back',
      sentence: `${target ? hostOfName(targetName(target)!) : 'The gateway’s name'} must have an address; have its operator place it again.`,
      visitsKept: context.impact,
    }),
  }
  if (ipv4.length + ipv6.length === 0) return [tellOperator]
  const record = (type: string, data: string): DnsRecord => ({ name: sight.name, type, ttl: NEW_TTL, data })
  const wanted = [...ipv4.map((address) => record('A', address)), ...ipv6.map((address) => record('AAAA', address))]
  const there = opened
    ? await liveSets(
        names,
        opened,
        POINTING.map((type) => ({ name: sight.name, type })),
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
      title: 'Place addresses instead of the CNAME',
      sentence: `${opened.server} is sent the gateway’s addresses in place of the CNAME.`,
      there,
      wish: { remove: there, add: wanted },
      wanted,
    }),
  ]
}

async function letIssuerIn(context: Context): Promise<ComposedRemedy[]> {
  const { sight, opened, names } = context
  const owner = sight.caa.owner
  const [issuer] = names.gateway.issuers
  if (!owner || !issuer) return []
  const wanted: DnsRecord[] = [{ name: owner, type: 'CAA', ttl: NEW_TTL, data: `0 issue "${issuer}"` }]
  const manual = byHand(
    context,
    'Let the issuer in by hand',
    `Add this record beside the CAA records at ${hostOfName(owner)}:`,
    wanted,
  )
  if (!opened || !isAtOrBelow(owner, sight.zone.origin)) return [manual]
  const there = await liveSets(names, opened, [{ name: owner, type: 'CAA' }])
  if (!there) return [manual]
  return [
    pushing(context, {
      title: 'Let the issuer in',
      sentence: `${opened.server} is sent one CAA record for ${issuer} beside those there; whoever is let in stays let in.`,
      there,
      wish: { remove: [], add: wanted },
      wanted,
    }),
    manual,
  ]
}

interface Pushing {
  title: string
  sentence: string
  there: DnsRecord[]
  wish: RecordChange
  wanted: readonly DnsRecord[]
}

/** A remedy by dynamic update. Verified by looking its records up in the sets as they are now, with the change made. */
function pushing(context: Context, { title, sentence, there, wish, wanted }: Pushing): ComposedRemedy {
  const { sight, domain, opened } = context
  const after = zoneAfter(withTop(there), wish)
  const answers = wanted.map((record) => ({
    record,
    found: lookup(after, record.name, record.type).answer.some(
      (answer) => answer.type === record.type && answer.data === record.data,
    ),
  }))
  if (!answers.every(({ found }) => found))
    return byHand(context, title, 'It cannot be made sure that this helps; place the records by hand:', wanted)
  const verified = `Looked up in the sets as ${opened!.server} gives them now, with this change made: ${[...new Set(wanted.map((record) => hostOfName(record.name)))].join(', ')} answers ${wanted.map((record) => `${record.type} ${record.data}`).join(', ')}.`
  return {
    told: remedy({
      title,
      sentence,
      verified,
      applies: true,
      undoable: true,
      records: wish.add.map(tellRecord),
      visitsKept: context.impact,
    }),
    apply: async (actor) =>
      (await placeRecords(context.db, context.names, actor, domain, opened!, sight.zone.origin, there, wish, 'remedy'))
        .push.sentence,
  }

  function withTop(records: readonly DnsRecord[]): Zone {
    const { zone } = sight
    return makeZone(zone.origin, [...zone.set(zone.origin, 'SOA'), ...zone.set(zone.origin, 'NS'), ...records])
  }
}

const describe = (change: RecordChange) =>
  [
    change.add.length > 0 && `${change.add.map((record) => `${record.type} ${record.data}`).join(', ')} to place`,
    change.remove.length > 0 &&
      `${change.remove.map((record) => `${record.type} ${record.data}`).join(', ')} to take away`,
  ]
    .filter(Boolean)
    .join(' and ')

function byHand(
  context: Context,
  title: string,
  sentence: string,
  records: readonly DnsRecord[] = context.sight.plan.needed.pointing,
): ComposedRemedy {
  return {
    told: remedy({
      title,
      sentence,
      records: records.map(tellRecord),
      to: `/domains/${context.domain.id}`,
      visitsKept: context.impact,
    }),
  }
}

/** A server that is behind: tells each one's serial as it is now. */
async function catchUp(context: Context): Promise<ComposedRemedy> {
  const { names, sight } = context
  const serials: string[] = []
  for (const server of sight.watch?.servers ?? []) {
    const asked = await ask(names.way(server.address, 53), sight.zone.origin, 'SOA')
    const soa = asked.ok ? asked.message.answer.find((record) => record.type === 'SOA') : undefined
    serials.push(`${server.name} has ${soa ? `serial ${readSoa({ ...soa, type: 'SOA' }).serial}` : 'no answer'}`)
  }
  return {
    told: remedy({
      title: 'Have the name servers agree again',
      sentence: `Have the one that differs take the zone anew. Asked just now: ${serials.join('; ') || 'no name server is known'}.`,
      to: `/domains/${context.domain.id}`,
      visitsKept: context.impact,
    }),
  }
}

function lookAgain({ db, domain }: Context): ComposedRemedy {
  return {
    told: remedy({
      title: 'Look again now',
      sentence: 'Every name server and resolver is asked at once; the case settles by itself when all is well.',
      applies: true,
    }),
    apply: async () => {
      await lookNow(db, Number(domain.id))
      return 'The watch looks again at once.'
    },
  }
}

/** Sets the case aside until the resolver must have let go, by its own word. */
function waitForLapse(context: Context): ComposedRemedy {
  const { db, row, sight, names } = context
  const server = row.subject.split(' ').slice(2).join(' ')
  const until = Math.max(
    ...sight.latest
      .filter(
        (seen) => seen.role === 'resolver' && seen.server === server && seen.ttl !== null && seen.name === sight.name,
      )
      .map((seen) => seen.at + (seen.ttl! * 1000) / names.ttlSpeed),
    Date.now() + 60_000,
  )
  const told = new Date(until).toISOString().slice(0, 16).replace('T', ' ')
  return {
    told: remedy({
      title: 'Wait until it lets go',
      sentence: `By its own word ${server} keeps the old answer until ${told} UTC. The case is set aside until then.`,
      applies: true,
      undoable: true,
      visitsKept: context.impact,
    }),
    apply: async (actor) => {
      await change(db, actor, async (under) => {
        await row.reload({ transaction: under.transaction, lock: under.transaction.LOCK.UPDATE })
        await writeCase(
          under,
          row,
          context.domain.host,
          {
            state: 'set-aside',
            setAsideUntil: new Date(until).toISOString(),
            reason: `${server} keeps the old answer until then`,
          },
          'set-aside',
        )
      })
      return `Set aside until ${told} UTC.`
    },
  }
}

async function seeFront(context: Context): Promise<ComposedRemedy> {
  const reach = await checkReach(context.names, context.domain.host, new Date())
  return {
    told: remedy({
      title: 'Have the gateway’s front answer for the name',
      visitsKept: context.impact,
      to: `/domains/${context.domain.id}?tab=certificate`,
      sentence: `Asked just now: ${reach?.sentence ?? 'no resolver answers.'} Whatever stands in front of the gateway must pass requests for ${context.domain.host} on to it.`,
    }),
  }
}
