import { toWire } from '../../address'
import { answer, type Table } from '../../table'
import type { DomainRow, LinkRow, RuleRow } from '../../rows'
import type { RedirectStatus } from '../../rows/redirect-status'

/** A link as it is taken out: what the table knows of it, and what people wrote about it. */
export interface OutLink extends LinkRow {
  title: string
  note: string
  owner: string
  tags: readonly string[]
}

/** What is taken out: links and rules of one domain, as they stand at a moment. */
export interface Outgoing {
  domain: DomainRow
  links: readonly OutLink[]
  /** In their order. */
  rules: readonly RuleRow[]
  /** Whether it is all of the domain: then its fallbacks go along. */
  whole: boolean
  /** The table they stand in, and the moment, in milliseconds. */
  table: Table
  at: number
}

/** What a kind of file cannot say, and what happens instead. */
export interface Cannot {
  code: string
  sentence: string
  /** The first addresses or patterns it concerns, and how many there are; none where it is so of all. */
  subjects: string[]
  count: number
}

export interface WrittenFile {
  name: string
  text: string
}

export interface Written {
  files: WrittenFile[]
  cannot: Cannot[]
  /** What is needed and done with it, step by step. */
  steps: string[]
}

/** What an address of a link comes to without a query, at the moment it is taken out. */
export type Standing =
  { kind: 'redirect'; status: RedirectStatus; location: string; carry: boolean } | { kind: 'page'; status: number }

/** What a link answers, by the gateway's own code. */
export function standingOf({ domain, table, at }: Outgoing, link: OutLink): Standing {
  const given = answer(table, { method: 'GET', host: domain.host, target: `/${toWire(link.canonical)}` }, at)
  if (given.location === null) return { kind: 'page', status: given.status }
  // An ended link leads where its end leads, whatever was asked.
  const carry = given.outcome === 'redirect' && link.query === 'carry'
  return { kind: 'redirect', status: given.status as RedirectStatus, location: given.location, carry }
}

const SHOWN = 20

/** Collects what cannot be said, with whom it concerns. */
export class CannotList {
  private readonly found = new Map<string, Cannot>()
  add(code: string, sentence: string, subject?: string): void {
    let known = this.found.get(code)
    if (!known) this.found.set(code, (known = { code, sentence, subjects: [], count: 0 }))
    if (subject === undefined) return
    known.count++
    if (known.subjects.length < SHOWN) known.subjects.push(subject)
  }
  get all(): Cannot[] {
    return [...this.found.values()]
  }
}

/** Says of links what no file of a server keeps: dates that lie ahead, and what is said while they rest. */
export function tellDates({ links, at }: Outgoing, cannot: CannotList): void {
  for (const { slug, startsAt, endsAt, resumesAt, standing } of links) {
    const ahead = [startsAt, endsAt, resumesAt].some((moment) => moment !== null && moment > at)
    if (ahead)
      cannot.add('dates', 'Future dates are not kept: each link is written as it was when the file was made.', slug)
    if (standing === 'paused') cannot.add('paused', 'A paused link is not found; nobody is told when it resumes.', slug)
  }
}
