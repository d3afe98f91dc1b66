// Registers made up for the tests: every kind of link and rule, on domains that read addresses in every way.
import { canonicalSlug } from '../../../core/address'
import type { OutLink, Outgoing } from '../../../core/formats/write'
import type { DomainRow, RuleRow } from '../../../core/rows'
import { compile } from '../../../core/table'
import { portAnselLinks } from '../../../server/database/seed/port-ansel'
import { HOSTS } from '../../../server/database/seed/port-ansel-links'
import { PORT_ANSEL_RULES } from '../../../server/database/seed/port-ansel-rules'
import { domainRow, linkRow, ruleRow } from '../../unit/table/rows'

/** Numbers that look random and are the same each time. */
export function random(seed: number) {
  let state = (seed + 1) * 2654435761
  return (below: number) => {
    state = (Math.imul(state ^ (state >>> 15), 2246822519) + 374761393) >>> 0
    return state % below
  }
}

export const AT = Date.UTC(2026, 10, 20, 12)
const WORDS = [
  'fares',
  'Night',
  'ferry',
  'zones',
  'map',
  'Regatta',
  'stop',
  'quay',
  'bus',
  'lost',
  'pier',
  'a.b',
  'c-d',
  'e_f',
  'x~y',
]
const DESTINATIONS = [
  'https://www.portansel.example/a',
  'https://www.portansel.example/b?x=1',
  'https://www.portansel.example/b?x=1&y=%2F#part',
  'https://www.portansel.example/c#part',
  'https://www.portansel.example/d%20e/$1/100%25',
  'https://www.portansel.example/q?cost=$5&r=%C3%A9',
  "https://www.portansel.example/it's(fine)",
]
const PATTERNS: [string, string][] = [
  ['/stop/:id(\\d{4})', 'https://live.portansel.example/s/{id}'],
  ['/archive/*', 'https://archive.portansel.example/{+0}'],
  ['/line/:line([a-z0-9]+)/:way(out|home)', 'https://www.portansel.example/l/{line}?way={way}'],
  ['/old{/}?', 'https://www.portansel.example/old'],
  ['/w/:name?', 'https://www.portansel.example/w/{name}'],
  ['/open day', 'https://www.portansel.example/open'],
  ['/plan b/*', 'https://www.portansel.example/plan/{+0}'],
]

export interface MadeRegister {
  outgoing: Outgoing
  /** Addresses to begin from. */
  asks: string[]
}

/** One register. The same seed gives the same one. */
export function makeRegister(seed: number): MadeRegister {
  const draw = random(seed)
  const domain: DomainRow = domainRow({
    host: `reg-${seed}.example`,
    capitalsMatter: seed % 2 === 0,
    trailingSlashMatters: seed % 4 >= 2,
    rootDestination: draw(2) ? 'https://www.portansel.example/root?from=short' : null,
    notFoundDestination: draw(3) === 0 ? 'https://www.portansel.example/not-found' : null,
    endedDestination: draw(3) === 0 ? 'https://www.portansel.example/ended' : null,
  })
  const links = new Map<string, OutLink>()
  for (let index = 0; index < 25; index++) {
    const words = Array.from({ length: 1 + draw(3) }, () => WORDS[draw(WORDS.length)]!)
    const slug = words.join(draw(2) ? '/' : '-') + (draw(3) ? '' : String(draw(100)))
    const canonical = canonicalSlug(slug, domain)!
    if (links.has(canonical)) continue
    const standing = (['live', 'live', 'live', 'live', 'paused', 'ended', 'retired'] as const)[draw(7)]!
    const row = linkRow({
      id: index + 1,
      slug,
      canonical,
      destination: DESTINATIONS[draw(DESTINATIONS.length)]!,
      status: ([301, 302, 303, 307, 308] as const)[draw(5)]!,
      query: draw(2) ? 'carry' : 'discard',
      queryConflict: 'both',
      standing,
      startsAt: draw(9) === 0 ? AT + 86_400_000 : null,
      endsAt: draw(9) === 0 ? AT - 86_400_000 : null,
      endedDestination: draw(4) === 0 ? 'https://www.portansel.example/own-end' : null,
    })
    links.set(canonical, { ...row, title: `Title ${index}`, note: '', owner: '', tags: [] })
  }
  const rules: RuleRow[] = PATTERNS.filter(() => draw(2) === 0).map(([pattern, destination], index) =>
    ruleRow({
      id: index + 1,
      position: index + 1,
      pattern,
      destination,
      status: draw(2) ? 301 : 302,
      query: draw(2) ? 'carry' : 'discard',
      queryConflict: 'both',
      condition: draw(3) === 0 ? [{ kind: 'query', mode: draw(2) ? 'contains' : 'exactly', text: 'id=5' }] : [],
      except: draw(3) === 0 ? ['stop/4417', 'archive/kept'] : [],
    }),
  )
  const all = [...links.values()]
  const table = compile([domain], all, 1, rules)
  return {
    outgoing: { domain, links: all, rules, whole: true, table, at: AT },
    asks: [
      ...all.map(({ slug }) => `/${slug}`),
      '/stop/4417',
      '/stop/1234',
      '/stop/44',
      '/archive/a/b',
      '/archive/kept',
      '/archive',
      '/line/4a/out',
      '/old',
      '/w/x',
      '/w',
      '/open%20day',
      '/plan%20b/c',
      '/robots.txt',
      '/.well-known/x',
    ],
  }
}

const DAY = 86_400_000
const ago = (days: number | null) => (days === null ? null : AT - days * DAY)

/** The demo's links and rules of one domain. */
function demoOf(host: string, capitalsMatter: boolean): MadeRegister {
  const domain = domainRow({ host, capitalsMatter, rootDestination: 'https://www.portanseltransit.example/' })
  const links = new Map<string, OutLink>()
  for (const [index, link] of portAnselLinks().entries()) {
    if (link.host !== host) continue
    const { slug, destination, status, query, standing, startsAgo, endsAgo, endedDestination } = link
    const canonical = canonicalSlug(slug, domain)!
    const row = linkRow({
      id: index + 1,
      slug,
      canonical,
      destination,
      status,
      query,
      standing,
      startsAt: ago(startsAgo),
      endsAt: ago(endsAgo),
      endedDestination,
    })
    links.set(canonical, { ...row, title: link.title, note: '', owner: '', tags: [] })
  }
  const rules = PORT_ANSEL_RULES.filter((rule) => rule.host === host && rule.active !== false).map((rule, index) =>
    ruleRow({
      id: index + 1,
      position: index + 1,
      syntax: rule.syntax,
      pattern: rule.pattern,
      destination: rule.destination,
      status: rule.status,
      condition: rule.condition ?? [],
    }),
  )
  const all = [...links.values()]
  const outgoing: Outgoing = { domain, links: all, rules, whole: true, table: compile([domain], all, 1, rules), at: AT }
  return { outgoing, asks: [...all.filter((_, index) => index % 7 === 0).map(({ slug }) => `/${slug}`), '/stop/4417'] }
}

/** The demo, domain by domain. */
export const DEMO: readonly MadeRegister[] = [demoOf(HOSTS.apex, false), demoOf(HOSTS.beside, true)]
