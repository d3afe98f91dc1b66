import {
  canonicalSlug,
  DESTINATION_REFUSALS,
  judgeSlug,
  readDestination,
  showHost,
  SLUG_REFUSALS,
  tidyDestination,
} from '../../../core/address'
import type { FileLink, FileRule } from '../../../core/formats'
import { judgePattern, quoted, readPattern, readTemplate } from '../../../core/patterns'
import { wholeSlugRules } from '../../../core/rows'
import { breachesOf, type SlugRules } from '../../../core/slugs'
import type { IntakeOptions } from '../../../core/schemas'
import type { Attributes } from 'sequelize'
import type { DomainModel } from '../../database/models/domain'
import { destinationHash } from '../links/link-state'
import { emptyRow, type JudgedRow, type LinkToBe, type RuleToBe } from './judged-row'

/** A domain’s row, as plain values: each row of a file asks it a dozen times. */
export type PlainDomain = Attributes<DomainModel>

export interface Judging {
  domains: ReadonlyMap<string, PlainDomain>
  options: IntakeOptions
  /** Slug rules by domain, filled in as they are asked for. */
  slugRules: Map<number, SlugRules>
}

/** A domain's slug rules, made once: what is remembered of blocked words goes with them. */
function slugRulesOf(domain: PlainDomain, { slugRules }: Judging): SlugRules {
  let rules = slugRules.get(domain.id)
  if (!rules) slugRules.set(domain.id, (rules = wholeSlugRules(domain.slugRules)))
  return rules
}

/** The domain a row is about; a sentence where it is none of ours. */
function domainFor(host: string | null, { domains, options }: Judging): PlainDomain | { why: string; would: string } {
  const named = domains.get((host ?? options.domain).toLowerCase())
  if (named) return named
  if (options.everyHost) return domains.get(options.domain)!
  return {
    why: `“${host}” is not one of your domains.`,
    would: `Bring addresses of every host to ${options.domain}, or add the domain first.`,
  }
}

/** The host a file’s address is read under: one that is none of our domains hides nothing of one that is. */
export const hostFor = (host: string | null, { domains, options }: Judging): string => {
  const named = (host ?? options.domain).toLowerCase()
  return domains.has(named) || !options.everyHost ? named : options.domain
}

const LENGTHS = [
  ['title', 300],
  ['note', 8000],
  ['owner', 120],
] as const

const NO_TAGS: string[] = []

/** Judges a link of a file by itself: what it would be written as, or why it cannot be. */
export function judgeLink(
  link: FileLink,
  judging: Judging,
  draw: (link: FileLink, domain: PlainDomain) => string | undefined,
): JudgedRow {
  const { file, line, column } = link
  const base = emptyRow(file, line, column, 'new')
  base.source = `${link.slug ?? ''} ${link.destination ?? 'gone'}`.slice(0, 300)
  const refuse = (code: string, why: string, would = ''): JudgedRow => ({ ...base, kind: 'refused', code, why, would })
  const domain = domainFor(link.host, judging)
  if ('why' in domain) return refuse('no-domain', domain.why, domain.would)
  const drawn = link.slug === null
  const slug = link.slug ?? draw(link, domain)
  if (slug === undefined) return refuse('no-slug', `The slug rules of ${domain.host} leave no slug free for it.`)
  const reading =
    link.destination === null ? undefined : readDestination(tidyDestination(link.destination).text, domain.appSchemes)
  if (reading && !reading.ok)
    return {
      ...refuse('destination', DESTINATION_REFUSALS[reading.reason]),
      address: `${showHost(domain.host)}/${slug}`,
    }
  const destination = reading?.destination ?? `https://${domain.host}/`
  const status = link.status ?? judging.options.status ?? domain.defaultStatus
  base.address = `${showHost(domain.host)}/${slug}`.slice(0, 900)
  base.destination = destination
  base.status = status
  if (slug === '')
    return refuse('root', 'It is the bare domain.', `Set where ${domain.host} itself leads under Fallbacks.`)
  const canonical = canonicalSlug(slug, domain)
  if (!canonical) return refuse('unreachable', 'No browser can request this address.')
  const refusal = judgeSlug(slug)
  if (refusal?.reason === 'character') return asRule(base, link, domain, canonical, destination, status)
  if (refusal) return refuse('slug', SLUG_REFUSALS[refusal.reason](refusal.character ?? ''))
  for (const [field, most] of LENGTHS)
    if ((link[field]?.length ?? 0) > most)
      return refuse('value', `The ${field} is longer than ${most} characters.`, 'Shorten it in the file.')
  const tags =
    link.tags || judging.options.tags.length > 0
      ? [...new Set([...(link.tags ?? []), ...judging.options.tags])].sort()
      : NO_TAGS
  if (tags.length > 30 || tags.some((tag) => tag.length > 60))
    return refuse('value', 'A link has at most 30 tags of at most 60 characters.')
  if (link.startsAt && link.endsAt && link.endsAt <= link.startsAt)
    return refuse('value', 'Its end is not later than its start.')
  const state: LinkToBe = {
    domainId: domain.id,
    slug,
    canonical,
    forwardsTo: null,
    exception: false,
    destination,
    status: status as LinkToBe['status'],
    query: link.query ?? 'discard',
    queryConflict: link.queryConflict ?? 'destination',
    title: link.title ?? '',
    note: link.note ?? '',
    owner: link.owner ?? '',
    standing: link.destination === null ? 'retired' : (link.standing ?? 'live'),
    startsAt: link.startsAt ?? null,
    endsAt: link.endsAt ?? null,
    resumesAt: link.resumesAt ?? null,
    endedDestination: link.endedDestination ?? null,
    robots: link.robots ?? null,
    referrerPolicy: (link.referrerPolicy ?? null) as LinkToBe['referrerPolicy'],
    unlisted: link.unlisted ?? drawn,
    tags,
  }
  base.decision = 'bring'
  base.state = state
  if (link.destination === null) {
    base.destination = null
    base.why = 'It is gone: its address is kept, and answers 410.'
  } else base.hash = destinationHash(destination)
  const [breach] = breachesOf(slug, slugRulesOf(domain, judging), domain.capitalsMatter)
  if (breach)
    return {
      ...base,
      kind: 'clash',
      code: 'rule-breaker',
      decision: null,
      why: breach.sentence,
      would: 'An administrator can import it as an exception.',
    }
  return base
}

/** An address no link may have is kept by a rule that takes it alone. */
function asRule(
  base: JudgedRow,
  link: FileLink,
  domain: PlainDomain,
  canonical: string,
  destination: string,
  status: number,
): JudgedRow {
  if (link.destination === null)
    return {
      ...base,
      kind: 'refused',
      code: 'slug',
      why: 'A slug cannot have such characters, and a rule leads somewhere.',
    }
  const rule: FileRule = {
    file: link.file,
    line: link.line,
    column: link.column,
    host: link.host,
    status: status as FileRule['status'],
    query: link.query,
    queryConflict: link.queryConflict,
    syntax: 'expression',
    pattern: quoted(`/${canonical}`),
    destination: destination.replace(/[{}]/g, encodeURIComponent),
    condition: [],
    title: link.title,
  }
  return {
    ...ruleRow(rule, domain, status),
    address: base.address,
    why: 'A slug cannot have such characters; a rule takes this one address.',
  }
}

/** Judges a rule of a file by itself. */
export function judgeRule(rule: FileRule, judging: Judging): JudgedRow {
  const domain = domainFor(rule.host, judging)
  const { file, line, column } = rule
  if ('why' in domain)
    return {
      ...emptyRow(file, line, column, 'refused'),
      code: 'no-domain',
      source: rule.pattern,
      why: domain.why,
      would: domain.would,
    }
  return ruleRow(rule, domain, rule.status ?? judging.options.status ?? domain.defaultStatus)
}

function ruleRow(rule: FileRule, domain: PlainDomain, status: number): JudgedRow {
  const { file, line, column, syntax, pattern, condition } = rule
  const base: JudgedRow = {
    ...emptyRow(file, line, column, 'rule'),
    decision: 'bring',
    address: `${showHost(domain.host)} ${pattern}`.slice(0, 900),
    destination: rule.destination,
    status,
    source: pattern.slice(0, 300),
  }
  const refuse = (code: string, why: string): JudgedRow => ({ ...base, kind: 'refused', decision: null, code, why })
  const reading = readPattern(syntax, pattern, !domain.capitalsMatter)
  if (!reading.ok) return refuse('pattern', reading.sentence)
  const template = readTemplate(rule.destination, reading.pattern.captures)
  if (!template.ok) return refuse('destination', template.sentence)
  const sample = rule.destination.replace(/\{\+?[A-Za-z0-9_]+\}/g, 'x')
  const destination = readDestination(sample, domain.appSchemes)
  if (!destination.ok) return refuse('destination', DESTINATION_REFUSALS[destination.reason])
  const problem = judgePattern({ pattern: reading.pattern }, domain)
  if (problem !== undefined) return refuse('pattern', problem)
  const state: RuleToBe = {
    domainId: domain.id,
    title: rule.title ?? '',
    syntax,
    pattern,
    destination: rule.destination,
    status,
    query: rule.query ?? 'discard',
    queryConflict: rule.queryConflict ?? 'destination',
    condition,
    except: rule.except ?? [],
    rank: 0,
  }
  return { ...base, state }
}
