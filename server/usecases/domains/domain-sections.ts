import { daysUntil, findCertificateTrouble, findRenewal, nameOfHost } from '../../../core/dns'
import type { Certificate, DomainSections } from '../../../core/schemas'
import { counted } from '../../../core/text/counted'
import type { Database } from '../../database/open'
import type { DomainModel } from '../../database/models/domain'
import type { NamesContext } from '../../names/context'
import { listRuleFindings } from '../rules/rule-findings'
import { readObservations } from './domain-observations'
import { findDomain } from './find-domain'

type Item = DomainSections['items'][number]
type Told = Pick<Item, 'state' | 'text'>

const DAY_MS = 86_400_000

/** The state of each section of a domain's page, from what is stored; nobody is asked. */
export async function readDomainSections(db: Database, names: NamesContext, id: number): Promise<DomainSections> {
  const domain = await findDomain(db, id)
  const now = Date.now()
  const [observations, watch, rules, findings] = await Promise.all([
    readObservations(db, names, id),
    db.DomainWatch.findByPk(id),
    db.Rule.count({ where: { domainId: id } }),
    listRuleFindings(db, domain.host),
  ])
  const never = findings.filter(({ kind }) => kind === 'hidden').length
  const fallbacks = [domain.rootDestination, domain.notFoundDestination, domain.endedDestination]
  const set = fallbacks.filter((destination) => destination !== null).length
  const languages = domain.pages.languages?.length ?? 0
  const items: Item[] = [
    { section: 'records', ...records(observations) },
    { section: 'slug-rules', state: 'idle', text: domain.capitalsMatter ? 'case-sensitive' : '' },
    {
      section: 'rules',
      ...(never > 0
        ? { state: 'doubtful', text: `${never} of ${rules} never ${never === 1 ? 'applies' : 'apply'}` }
        : { state: 'idle', text: rules === 0 ? 'none' : String(rules) }),
    },
    { section: 'fallbacks', state: 'idle', text: set === 0 ? '' : `${set} set` },
    { section: 'pages', state: 'idle', text: languages === 0 ? '' : counted(languages, 'language') },
    { section: 'certificate', ...certificate(domain, watch?.certificate ?? null, now) },
    { section: 'renewal', ...renewal(domain, now) },
    { section: 'old-paths', state: 'idle', text: '' },
  ]
  return { items }
}

/** How many of the records needed every server that answers was seen to give. */
function records({ wanted, items }: Awaited<ReturnType<typeof readObservations>>): Told {
  const sets = wanted.map(({ name, type }) =>
    items.filter((item) => item.name === name && item.type === type && item.sight !== null && item.sight !== 'silent'),
  )
  const asked = sets.filter((set) => set.length > 0)
  if (asked.length === 0) return { state: 'idle', text: 'not checked yet' }
  const seen = asked.filter((set) => set.every(({ sight }) => sight === 'new')).length
  return { state: seen === asked.length ? 'sound' : 'doubtful', text: `${seen} of ${asked.length} seen` }
}

/** The same judgement as the docket's: what ends soon is late only by the length of its life. */
function certificate({ host }: DomainModel, served: Certificate | null, now: number): Told {
  if (!served?.answered) return { state: 'idle', text: 'none' }
  const trouble = findCertificateTrouble(nameOfHost(host), served, undefined, now)
  if (trouble?.kind === 'certificate-fault' || served.validTo === null) return { state: 'broken', text: 'not valid' }
  const days = Math.floor((Date.parse(served.validTo) - now) / DAY_MS)
  return { state: trouble?.severity ?? 'sound', text: days < 0 ? 'expired' : counted(days, 'day') }
}

function renewal({ host, expiresOn, registrar }: DomainModel, now: number): Told {
  if (expiresOn === null) return { state: 'idle', text: 'no date' }
  const trouble = findRenewal(nameOfHost(host), expiresOn, registrar, now)
  const days = daysUntil(expiresOn, now)
  return {
    state: trouble?.severity ?? 'sound',
    text: days < 0 ? 'expired' : days === 0 ? 'today' : counted(days, 'day'),
  }
}
