import { canonicalSlug, toWire, type Sameness } from '../address'
import { expand, makeMatcher, readPattern, readTemplate, type Pattern } from '../patterns'
import type { FileLink } from './format'

/** A rule that says what many links of one shape say. */
export interface InferredRule {
  host: string | null
  pattern: string
  destination: string
  status: FileLink['status']
  query: FileLink['query']
  queryConflict: FileLink['queryConflict']
  /** The links it stands for: each leads exactly where the rule leads its address. */
  links: FileLink[]
  /** Links whose address it takes, but which lead elsewhere: they stay, and are asked first. */
  exceptions: FileLink[]
  /** How many addresses it takes; null where there is no end to them. */
  takes: number | null
  /** An address it takes that no line names; null where there is none. */
  beyond: string | null
}

/** So many links of one shape are worth a rule. */
const FEWEST = 8
/** Of the links a rule's pattern takes, so many at least must lead where it leads them. */
const MIN_SHARE = 0.6

const HOLE = '\u0001'

interface Shape {
  key: string
  slug: string
  destination: string
  /** What stands in the hole, and whether it may hold slashes. */
  value: string
  rest: boolean
}

const alphanumeric = (character: string | undefined) => character !== undefined && /[\p{L}\p{N}]/u.test(character)

/** Replaces a token where it stands by itself; `undefined` where it does not. */
function withHole(text: string, token: string): string | undefined {
  const digits = /^\d+$/.test(token)
  const joined = digits
    ? (character: string | undefined) => character !== undefined && /\d/.test(character)
    : alphanumeric
  let made = ''
  let from = 0
  let found = false
  for (let at = text.indexOf(token); at !== -1; at = text.indexOf(token, at + 1)) {
    if (at < from || joined(text[at - 1]) || joined(text[at + token.length])) continue
    made += text.slice(from, at) + HOLE
    from = at + token.length
    found = true
  }
  return found ? made + text.slice(from) : undefined
}

/** The shapes a link may be one of: a piece of its address that stands in its destination as well. */
function shapesOf(link: FileLink): Shape[] {
  const slug = link.slug!
  const destination = link.destination!
  const about = `${link.host ?? ''} ${link.status ?? ''} ${link.query ?? ''} ${link.queryConflict ?? ''}`
  // Captures stand behind the host alone.
  const home = /^[a-z][a-z0-9+.-]*:\/\/[^/?#]+[/?#]/i.exec(destination)?.[0]
  if (home === undefined) return []
  const path = destination.slice(home.length)
  const shapes: Shape[] = []
  const add = (slugShape: string, to: string, value: string, rest: boolean) =>
    shapes.push({ key: `${about} ${slugShape} ${to}`, slug: slugShape, destination: to, value, rest })
  const tokens = new Map<string, [from: number, to: number]>()
  const segments = [...slug.matchAll(/[^/]+/g)]
  for (const segment of segments) {
    tokens.set(`${segment.index}-s`, [segment.index, segment.index + segment[0].length])
    for (const run of segment[0].matchAll(/\d+|[^\d\-._~]+/g))
      tokens.set(`${segment.index + run.index}-r`, [
        segment.index + run.index,
        segment.index + run.index + run[0].length,
      ])
  }
  // Pieces of the destination that stand within a segment, as a page's name before its ending does.
  for (const piece of new Set(path.split(/[/?&=#.]/))) {
    const at = piece.length < 2 ? -1 : slug.indexOf(piece)
    if (at !== -1 && !alphanumeric(slug[at - 1]) && !alphanumeric(slug[at + piece.length]))
      tokens.set(`${at}-${at + piece.length}`, [at, at + piece.length])
  }
  for (const [from, to] of tokens.values()) {
    const value = slug.slice(from, to)
    const there = withHole(path, value)
    if (there !== undefined) add(slug.slice(0, from) + HOLE + slug.slice(to), home + there, value, false)
  }
  // All that follows a slash, as it stands at the end of the destination.
  for (const segment of segments.slice(1)) {
    const value = slug.slice(segment.index)
    if (value.includes('/') && (path === value || path.endsWith(`/${value}`)))
      add(slug.slice(0, segment.index) + HOLE, home + path.slice(0, path.length - value.length) + HOLE, value, true)
  }
  return shapes
}

/**
 * Rules that say what links of a file say, where many have one shape. Each is put to every link: those it stands for
 * lead exactly where it leads them, and whatever else it would take is named as an exception.
 */
export function inferRules(links: readonly FileLink[], samenessOf: (host: string | null) => Sameness): InferredRule[] {
  const groups = new Map<string, { shape: Shape; members: { link: FileLink; value: string }[] }>()
  for (const link of links) {
    if (link.slug === null || link.destination === null || hasDetails(link)) continue
    const seen = new Set<string>()
    for (const shape of shapesOf(link)) {
      if (seen.has(shape.key)) continue
      seen.add(shape.key)
      const group = groups.get(shape.key)
      if (group) group.members.push({ link, value: shape.value })
      else groups.set(shape.key, { shape, members: [{ link, value: shape.value }] })
    }
  }
  const taken = new Set<FileLink>()
  const rules: InferredRule[] = []
  const candidates = [...groups.values()].filter(({ members }) => members.length >= FEWEST)
  candidates.sort((a, b) => b.members.length - a.members.length || Number(a.shape.rest) - Number(b.shape.rest))
  const byHost = new Map<string | null, { link: FileLink; canonical: string }[]>()
  for (const link of links) {
    const canonical = link.slug === null ? undefined : canonicalSlug(link.slug, samenessOf(link.host))
    if (canonical === undefined) continue
    const list = byHost.get(link.host)
    if (list) list.push({ link, canonical })
    else byHost.set(link.host, [{ link, canonical }])
  }
  for (const { shape, members } of candidates) {
    const free = members.filter(({ link }) => !taken.has(link))
    if (free.length < FEWEST) continue
    const [{ link: first }] = free as [{ link: FileLink; value: string }]
    const rule = proven(shape, free, first, byHost.get(first.host) ?? [], taken, samenessOf(first.host))
    if (!rule) continue
    for (const link of rule.links) taken.add(link)
    rules.push(rule)
  }
  return rules
}

/** What a rule cannot say of each address by itself. */
const hasDetails = ({ title, note, owner, tags, standing, startsAt, endsAt }: FileLink) =>
  Boolean(title || note || owner || tags?.length || startsAt || endsAt) ||
  (standing !== undefined && standing !== 'live')

function proven(
  shape: Shape,
  members: readonly { link: FileLink; value: string }[],
  first: FileLink,
  all: readonly { link: FileLink; canonical: string }[],
  taken: ReadonlySet<FileLink>,
  sameness: Sameness,
): InferredRule | undefined {
  const values = members.map(({ value }) => value)
  const kind = classOf(values, shape.rest)
  const [before = '', after = ''] = shape.slug.split(HOLE)
  const pattern = `/${literal(before)}${kind.pattern}${literal(after)}`
  const destination = shape.destination.replace(/[{}]/g, encodeURIComponent).replaceAll(HOLE, kind.template)
  const reading = readPattern('path', pattern, !sameness.capitalsMatter)
  if (!reading.ok) return undefined
  const template = readTemplate(destination, reading.pattern.captures)
  if (!template.ok) return undefined
  const matcher = makeMatcher(reading.pattern, sameness.trailingSlashMatters)
  const mine = new Set(members.map(({ link }) => link))
  const links: FileLink[] = []
  const exceptions: FileLink[] = []
  const named = new Set<string>()
  for (const { link, canonical } of all) {
    const captured = matcher.match(canonical)
    if (!captured) continue
    named.add(canonical)
    if (taken.has(link)) exceptions.push(link)
    else if (mine.has(link) && toWire(expand(template.template, captured)) === toWire(link.destination!))
      links.push(link)
    else exceptions.push(link)
  }
  if (links.length < FEWEST || links.length < MIN_SHARE * named.size) return undefined
  return {
    host: first.host,
    pattern,
    destination,
    status: first.status,
    query: first.query,
    queryConflict: first.queryConflict,
    links,
    exceptions,
    takes: kind.size,
    beyond: beyondOf(reading.pattern, kind, before, after, named, sameness),
  }
}

interface ValueClass {
  pattern: string
  template: string
  /** How many values there are; null without end. */
  size: number | null
  /** Values to look for one that nobody named. */
  examples(): Iterable<string>
}

/** The narrowest class that holds all values: digits of their lengths, else letters, digits and marks as they occur. */
function classOf(values: readonly string[], rest: boolean): ValueClass {
  if (rest) return { pattern: ':rest(.+)', template: '{+rest}', size: null, examples: () => ['other', 'other/one'] }
  const lengths = values.map((value) => value.length)
  const [least, most] = [Math.min(...lengths), Math.max(...lengths)]
  if (values.every((value) => /^\d+$/.test(value))) {
    let size = 0
    for (let length = least; length <= most; length++) size += 10 ** length
    return {
      pattern: `:id(\\d{${least === most ? least : `${least},${most}`}})`,
      template: '{id}',
      size,
      *examples() {
        for (let number = 0; number < Math.min(size, 2 * values.length + 2); number++)
          yield String(number).padStart(least, '0')
      },
    }
  }
  const letters = ['a-z', 'A-Z', '0-9', '\\-', '_', '.', '~'].filter((range) =>
    values.some((value) => new RegExp(`[${range}]`).test(value)),
  )
  const known = new RegExp(`^[${letters.join('')}]+$`)
  const plain = letters.length > 0 && values.every((value) => known.test(value))
  const extra = 'abcdefghijklmnopqrstuvwxyz0123456789'
  return {
    pattern: plain ? `:name([${letters.join('')}]+)` : ':name',
    template: '{+name}',
    size: null,
    *examples() {
      for (const one of extra) yield one
      for (const one of extra) for (const other of extra) yield one + other
    },
  }
}

/** An address a pattern takes that is not among those named. */
function beyondOf(
  pattern: Pattern,
  kind: ValueClass,
  before: string,
  after: string,
  named: ReadonlySet<string>,
  sameness: Sameness,
): string | null {
  const matcher = makeMatcher(pattern, sameness.trailingSlashMatters)
  for (const value of kind.examples()) {
    const canonical = canonicalSlug(before + value + after, sameness)
    if (canonical !== undefined && !named.has(canonical) && matcher.match(canonical)) return `/${canonical}`
  }
  return null
}

/** Fixed text of a path pattern (URL Pattern §2.2). */
const literal = (text: string) => text.replace(/[\\*+?{}:()]/g, '\\$&')
