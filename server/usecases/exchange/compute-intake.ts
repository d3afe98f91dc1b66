import { randomBytes } from 'node:crypto'
import { canonicalSlug, judgeSlug } from '../../../core/address'
import { CLASH_FINDERS, Survey } from '../../../core/conflicts'
import { findFormat, inferRules, inOurOrder, recognise, type FileLink, type InferredRule } from '../../../core/formats'
import { previewOf } from '../../../core/formats/csv/preview'
import { isPermanent, wholeSlugRules } from '../../../core/rows'
import { breachesOf, randomAlphabet, randomSlug, wordsOf } from '../../../core/slugs'
import type { IntakeOptions } from '../../../core/schemas'
import type { Database } from '../../database/open'
import type { IntakeModel, KeptFamily } from '../../database/models/intake'
import { readSurvey } from '../conflicts/read-survey'
import { destinationHash } from '../links/link-state'
import { Problem } from '../problem'
import { wantChecked } from '../targets/want-checked'
import { compareRows, isNewLink } from './compare-rows'
import { findClashes } from './find-clashes'
import { hostFor, judgeLink, judgeRule, type Judging, type PlainDomain } from './judge-rows'
import { refusedRow, rowsBesides, type JudgedRow, type LinkToBe, type RuleToBe } from './judged-row'
import type { ImportWork } from './import-jobs'
import { findLeftOut } from './left-out'
import { filesOf, readSource } from './sources'
import { writeRows, type Tell } from './write-intake-rows'

const PAGE = 1000
const MAX_REMARKS = 200

/**
 * Works an intake out: reads its file, compares it with the register, finds clashes and rules of one shape, and writes
 * a row for each line. Nothing of the register is touched. It computes for seconds: it belongs in a thread.
 */
export async function computeIntake(db: Database, intake: IntakeModel, work: ImportWork, tell: Tell): Promise<void> {
  const { options } = intake
  await tell('reading', 0, 0)
  const { files, encoding } = filesOf(intake.name, await readSource(db, intake.id))
  const format = options.format === undefined ? recognise(files) : findFormat(options.format)
  if (!format) throw new Problem(422, 'Not recognised', 'Unknown file format. Choose the format.')
  const domains = new Map((await db.Domain.findAll()).map((domain) => [domain.host, domain.get({ plain: true })]))
  const home = domains.get(options.domain)
  if (!home) throw new Problem(422, 'No such domain', `There is no domain “${options.domain}”.`)
  const judging: Judging = { domains, options, slugRules: new Map() }
  const reading = format.read(files, {
    host: home.host,
    sameness: home,
    context: options.context,
    base: options.base,
    columns: options.columns,
  })
  const ordered = inOurOrder(
    reading,
    (host) => hostFor(host, judging),
    (host) => domains.get(host) ?? home,
  )
  await tell('comparing', 0, ordered.links.length)
  const draw = drawer()
  const rows: JudgedRow[] = []
  const rowOf = new Map<FileLink, JudgedRow>()
  for (const link of ordered.links) {
    const row = judgeLink(link, judging, draw)
    rows.push(row)
    rowOf.set(link, row)
  }
  for (const rule of ordered.rules) rows.push(judgeRule(rule, judging))
  for (const [rank, { kind, state }] of rows.entries()) if (kind === 'rule' && state) (state as RuleToBe).rank = rank
  const hosts = new Map([...domains.values()].map(({ id, host }) => [id, host]))
  await nameDestinationsKnown(db, rows, hosts)
  const said = new Map([...rowOf].map(([link, row]) => [row, link]))
  const says = (row: JudgedRow, field: string) => {
    const link = said.get(row)
    return link !== undefined && link[field as keyof FileLink] !== undefined && link[field as keyof FileLink] !== ''
  }
  const survey = await readSurvey(db, undefined, undefined, new Survey(CLASH_FINDERS))
  const met = rows.filter((row) => isNewLink(row) && isThere(survey, row.state as LinkToBe))
  for (let from = 0; from < met.length; from += PAGE) {
    await compareRows(db, met.slice(from, from + PAGE), hosts, says)
    await tell('comparing', Math.min(met.length, from + PAGE), met.length)
  }
  await clashes(survey, rows, tell)
  // Files in which each line has a title of its own are no candidates: a rule has one.
  const families = inferRules(
    ordered.links.filter((link) => {
      const row = rowOf.get(link)!
      return row.kind === 'new' && row.destination !== null && row.code === ''
    }),
    (host) => domains.get(hostFor(host, judging)) ?? home,
  ).filter((family) => isKept(family, rows, rowOf))
  for (const [number, { links }] of families.entries()) for (const link of links) rowOf.get(link)!.family = number
  const { follows, rows: leftOut } = await findLeftOut(db, intake, rows, domains, survey)
  rows.push(...reading.refusals.map(refusedRow), ...rowsBesides(ordered), ...leftOut)
  rows.sort((a, b) => byName(a.file, b.file) || a.line - b.line || a.column - b.column)
  await Promise.all([wantChecks(db, rows), writeRows(db, intake.id, work, rows, tell)])
  const about = {
    families: families.map((family) => keptFamily(family, domains.get(hostFor(family.host, judging))!, options)),
    remarks: reading.remarks.slice(0, MAX_REMARKS),
    follows,
    permanent: linesForGood([...ordered.links, ...ordered.rules]),
    ...(format.id === 'csv' && files[0] && previewOf(files[0].text, options.columns)),
  }
  await work.finish({
    to: 'ready',
    values: {
      format: format.id,
      read_as: `${reading.readAs}${encoding === 'UTF-8' ? '' : `, ${encoding}`}`.slice(0, 300),
      line_count: reading.lines,
      about: JSON.stringify(about),
      step: '',
      total: rows.length,
      done: rows.length,
      problem: '',
    },
  })
}

/**
 * How many lines say themselves that they answer for good, not only the domain they come to. One line may come to a
 * link and a rule.
 */
const linesForGood = (all: readonly { status?: number; file: string; line: number }[]) =>
  new Set(
    all.flatMap(({ status, file, line }) => (status !== undefined && isPermanent(status) ? `${line} ${file}` : [])),
  ).size

const byName = (a: string, b: string) => (a === b ? 0 : a.localeCompare(b))

/** A rule is worth offering where no line it takes is in question. */
const isKept = (family: InferredRule, rows: readonly JudgedRow[], rowOf: ReadonlyMap<FileLink, JudgedRow>) =>
  rows.length > 0 && family.links.every((link) => rowOf.get(link)!.kind === 'new')

const keptFamily = (family: InferredRule, domain: PlainDomain, options: IntakeOptions): KeptFamily => ({
  domainId: domain.id,
  pattern: family.pattern,
  destination: family.destination,
  status: family.status ?? options.status ?? domain.defaultStatus,
  query: family.query ?? 'discard',
  queryConflict: family.queryConflict ?? 'destination',
  links: family.links.length,
  exceptions: family.exceptions.length,
  takes: family.takes,
  beyond: family.beyond,
  taken: false,
})

/** Whether a link has an address today, its own or one that forwards. */
const isThere = ({ state }: Survey, { domainId, canonical }: LinkToBe) =>
  state.table.domains.get(domainId)?.links.has(canonical) ?? false

/** Finds conflicts with all there is and within the file. */
async function clashes(survey: Survey, rows: readonly JudgedRow[], tell: Tell): Promise<void> {
  await tell('looking for clashes', 0, rows.length)
  for (const { done, total } of findClashes(survey, rows)) await tell('looking for clashes', done, total)
  for (const row of rows)
    if (row.code === 'straightened') {
      row.hash = destinationHash(row.destination!)
      row.code = ''
    }
}

/** Says of rows without an address of their own that their destination has one already. */
async function nameDestinationsKnown(
  db: Database,
  rows: readonly JudgedRow[],
  hosts: ReadonlyMap<number, string>,
): Promise<void> {
  const drawn = rows.filter((row) => isNewLink(row) && (row.state as LinkToBe).unlisted && row.hash !== null)
  for (let from = 0; from < drawn.length; from += PAGE) {
    const page = drawn.slice(from, from + PAGE)
    const links = await db.Link.findAll({
      attributes: ['id', 'domainId', 'slug', 'destinationHash'],
      where: { destinationHash: page.map(({ hash }) => hash!), forwardsTo: null, standing: 'live' },
    })
    const byHash = new Map(links.map((link) => [link.destinationHash, link]))
    for (const row of page) {
      const link = byHash.get(row.hash!)
      if (link)
        Object.assign(row, {
          kind: 'same',
          code: 'known',
          decision: 'leave',
          linkId: link.id,
          state: null,
          hash: null,
          why: `Its destination has a short address already: ${hosts.get(link.domainId)}/${link.slug}.`,
        })
    }
  }
}

/** Draws slugs for links that have none: of the words of their titles or pages where one is free, else at random. */
function drawer(): (link: FileLink, domain: PlainDomain) => string | undefined {
  const taken = new Set<string>()
  return (link, domain) => {
    const rules = wholeSlugRules(domain.slugRules)
    const fits = (slug: string) => {
      const canonical = canonicalSlug(slug, domain)
      if (!canonical || taken.has(`${domain.id}/${canonical}`) || judgeSlug(slug)) return false
      if (breachesOf(slug, rules, domain.capitalsMatter).length > 0) return false
      taken.add(`${domain.id}/${canonical}`)
      return true
    }
    const prefix = rules.prefixes[0] ? `${rules.prefixes[0]}/` : ''
    const page =
      /^[a-z]+:\/\/[^/]+\/(?:.*\/)?([^/?#]+?)(?:\.\w+)?\/?(?:[?#]|$)/i.exec(link.destination ?? '')?.[1] ?? ''
    const separator = rules.separators.includes('-') ? '-' : ''
    for (const text of [link.title ?? '', page]) {
      const slug = prefix + wordsOf(text).slice(0, 4).join(separator)
      if (slug.length > prefix.length + 2 && slug.length < 40 && fits(slug)) return slug
    }
    const alphabet = randomAlphabet(rules, domain.capitalsMatter).join('')
    for (let tries = 0; tries < 60; tries++) {
      const slug = prefix + randomSlug(alphabet, Math.max(rules.randomLength, rules.minLength), randomBytes)
      if (fits(slug)) return slug
    }
    return undefined
  }
}

/** So many new destinations of one file are asked. */
const MAX_WANTED = 20_000

/** Has new destinations asked by the workers. */
async function wantChecks(db: Database, rows: readonly JudgedRow[]): Promise<void> {
  const wanted = new Map<string, { hash: string; destination: string }>()
  for (const { hash, destination } of rows) {
    if (wanted.size === MAX_WANTED) break
    if (hash !== null && destination !== null && !wanted.has(hash)) wanted.set(hash, { hash, destination })
  }
  await wantChecked(db, [...wanted.values()], { urgent: false })
}
