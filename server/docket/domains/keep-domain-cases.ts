import { QueryTypes } from 'sequelize'
import {
  clockWords,
  findCertificateTrouble,
  DOMAIN_CASE_KINDS,
  findDrift,
  findRenewal,
  findServerTroubles,
  unreached,
  type DomainTrouble,
  type Observation,
  type ServedCertificate,
  type SerialRun,
  type SigningVerdict,
} from '../../../core/dns'
import { isOpenStanding, type Reach } from '../../../core/schemas'
import type { Database } from '../../database/open'
import type { NamesContext } from '../../names/context'
import { zoneServers, type DomainOverview } from '../../usecases/domains/domain-overview'
import { listed } from '../../../core/text/listed'
import type { CaseKindName } from '../../../core/docket'
import type { DocketCaseModel } from '../../database/models/docket-case'
import { caseKey, reconcileCases, type Finding } from '../keeper'
import { DAYS } from '../../usecases/links/listed-views'

/** Visits a day on a domain's links, over the last 28 days. */
async function visitsADay(db: Database, domainId: number): Promise<number> {
  const [sum] = await db.sequelize.query<{ visits: string | null }>(
    'SELECT SUM(visits_28) AS visits FROM link WHERE domain_id = ?',
    { replacements: [domainId], type: QueryTypes.SELECT },
  )
  return Math.round((Number(sum?.visits ?? 0) / DAYS) * 100) / 100
}

/** A domain with what a look saw of it beside its records. */
export interface Looked extends DomainOverview {
  targetExists?: boolean
  notReached?: Reach
  signing?: SigningVerdict
  /** What the front serves over TLS, where it is to, and its last failure. */
  certificate?: { served: ServedCertificate; failure?: { at: number; detail: string } }
  serials: readonly SerialRun[]
}

/** What is wrong with a domain by what was seen of it; a domain that is not open can only be due for renewal. */
export function domainTroubles(looked: Looked, names: NamesContext, now: Date): DomainTrouble[] {
  const { domain, name, questions, latest, caa, sighting, targetExists, notReached, signing, serials, watch } = looked
  const renewal = findRenewal(name, domain.expiresOn, domain.registrar, now.getTime())
  const open = isOpenStanding(domain.standing)
  const drift = open
    ? findDrift({
        name,
        latest,
        targetExists,
        everyoneBy: sighting.everyoneBy,
        now: now.getTime(),
        pointing: questions.authority,
        visited: questions.resolver,
        caa:
          names.gateway.issuers.length > 0 && latest.some((seen) => seen.type === 'CAA' && seen.status !== 'silent')
            ? caa
            : undefined,
      })
    : []
  // Where records are wrong, that is why the gateway is not reached.
  const broken = drift.some((trouble) => trouble.severity === 'broken')
  // Until it is open, only the switch suffers from its name servers; then whoever waits for it must know.
  const watched = open || domain.standing === 'spreading'
  const servers =
    watched && watch?.zoneOrigin
      ? findServerTroubles({
          origin: watch.zoneOrigin,
          servers: zoneServers(watch.servers),
          latest,
          serials,
          now: now.getTime(),
        })
      : []
  // Where the name does not lead here, or CAA shuts the issuer out, no certificate can be had: that case tells.
  const shutOut = drift.some((trouble) => trouble.kind === 'caa-shuts-out')
  const certificate =
    open && !broken && !notReached && !shutOut && looked.certificate
      ? findCertificateTrouble(name, looked.certificate.served, looked.certificate.failure, now.getTime())
      : undefined
  return [
    ...drift,
    ...servers,
    ...(watched && signing && 'trouble' in signing ? [signing.trouble] : []),
    ...(notReached && open && !broken ? [unreached(name, notReached.sentence, notReached.address)] : []),
    ...(certificate ? [certificate] : []),
    ...(renewal ? [renewal] : []),
  ]
}

/** Keeps the cases of the Domains lane for one domain. */
export async function keepDomainCases(db: Database, names: NamesContext, overview: Looked, now: Date): Promise<void> {
  const domainId = overview.domain.id
  const troubles = domainTroubles(overview, names, now)
  const impact = troubles.length > 0 ? await visitsADay(db, domainId) : 0
  const isUnseen = unseenServers(overview)
  const kinds = [...DOMAIN_CASE_KINDS]
  await db.sequelize.transaction(async (transaction) => {
    // One that was removed while it was looked at gets no cases.
    if (!(await db.Domain.findByPk(domainId, { transaction, lock: transaction.LOCK.SHARE }))) return
    const there = await db.DocketCase.findAll({
      where: { lane: 'domains', domainId, kind: kinds },
      transaction,
      lock: transaction.LOCK.UPDATE,
    })
    const found = troubles.map(({ harmAt, ...trouble }) => ({
      ...trouble,
      key: caseKey({ kind: trouble.kind, domainId, linkId: null, subject: trouble.subject }),
      domainId,
      linkId: null,
      links: [],
      impact,
      harmAt: harmAt === undefined ? null : new Date(harmAt),
      print: null,
      conflict: null,
    }))
    const keys = new Set(found.map(({ key }) => key))
    // A server that said the wrong thing and now says nothing has not been mended: its case stays, and says so.
    const unseen = there.flatMap((row) => {
      const silent = row.state === 'settled' || keys.has(row.caseKey) ? [] : isUnseen(row)
      return silent.length === 0 ? [] : [{ ...findingOf(row), sentence: withNote(row.sentence, silent) }]
    })
    await reconcileCases(db, [...found, ...unseen], {
      there,
      now,
      transaction,
      wasObservable: (row) => !row.kind.startsWith('signing') || overview.signing !== undefined,
    })
  })
}

/** By what a case goes on to say that nobody could look. */
const NOTE = ' It cannot be seen any more whether that is so: '

const withNote = (sentence: string, silent: readonly Observation[]): string => {
  const since = Math.min(...silent.map(({ firstAt }) => firstAt))
  const servers = [...new Set(silent.map(({ server }) => server))]
  const give = servers.length === 1 ? 'gives' : 'give'
  return `${sentence.split(NOTE)[0]}${NOTE}${listed(servers)} ${give} no answer since ${clockWords(since)}.`
}

/** A case as the finding it was made of. */
const findingOf = (row: DocketCaseModel): Finding => ({
  kind: row.kind as CaseKindName,
  key: row.caseKey,
  cause: row.cause,
  domainId: row.domainId,
  linkId: row.linkId,
  links: [],
  subject: row.subject,
  severity: row.severity,
  headline: row.headline,
  sentence: row.sentence,
  evidence: row.evidence,
  impact: Number(row.impact),
  harmAt: row.harmAt,
  print: row.print,
  conflict: null,
})

/** For a case, the observations of those servers it is about that say nothing now. */
function unseenServers({ latest, questions }: Looked): (row: DocketCaseModel) => Observation[] {
  const isAsked = (seen: Observation) =>
    seen.type === 'SOA' ||
    (seen.role === 'authority' ? questions.authority : questions.resolver).some(
      (set) => set.name === seen.name && set.type === seen.type,
    )
  const silent = latest.filter((seen) => seen.status === 'silent' && isAsked(seen))
  const unsaid = latest.filter((seen) => !['answered', 'none'].includes(seen.status) && isAsked(seen))
  return (row) => {
    if (['renewal-due', 'not-reached', 'one-family', 'certificate-fault', 'certificate-ending'].includes(row.kind))
      return []
    // One name server's case is about that one alone; one that fails in another way than before has another case.
    if (row.kind.startsWith('server-')) return silent.filter(({ server }) => server === row.subject)
    const labels = row.evidence.filter((item) => item.state !== 'sound').map((item) => item.label)
    // As soon as one of them answers it is not so any more that none does.
    if (row.kind === 'no-server' && !labels.every((label) => silent.some(({ server }) => server === label))) return []
    return unsaid.filter(({ server }) => labels.includes(server))
  }
}
