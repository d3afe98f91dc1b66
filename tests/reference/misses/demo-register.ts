import { canonicalSlug } from '../../../core/address'
import { LinkIndex, type IndexedLink } from '../../../core/misses'
import { seeded } from '../../../server/database/seed/chance'
import { HOSTS, type DemoLink } from '../../../server/database/seed/port-ansel-links'
import { portAnselLinks } from '../../../server/database/seed/port-ansel'
import { makeSlips, type SlipKind } from '../../../standins/visitors/slips'

/** The demo's links as the ranking knows them, and who lies where. */
export interface DemoRegister {
  index: LinkIndex
  links: (IndexedLink & { host: string; slug: string })[]
  hostIds: Map<string, number>
  /** Whether an address answers as it stands, so that asking for it is no miss. */
  answers(host: string, path: string): boolean
}

// Capitals do not matter on the apex; trailing slashes nowhere.
const samenessOf = (host: string) => ({ capitalsMatter: host !== HOSTS.apex, trailingSlashMatters: false })

export function demoRegister(): DemoRegister {
  const all = portAnselLinks()
  const hostIds = new Map([...new Set(all.map(({ host }) => host))].map((host, at) => [host, at + 1]))
  const open = all.filter(({ host }) => host !== HOSTS.coming)
  const sum = open.reduce((total, { weight }) => total + weight, 0)
  // 28 days of some 1,250 requests.
  const visitsOf = ({ weight }: DemoLink) => Math.round((weight / sum) * 28 * 1250)
  const links = open.map((link, at) => ({
    id: at + 1,
    leader: at + 1,
    domainId: hostIds.get(link.host)!,
    canonical: canonicalSlug(link.slug, samenessOf(link.host))!,
    visits: visitsOf(link),
    live: link.standing === 'live',
    shown: true,
    host: link.host,
    slug: link.slug,
  }))
  const addresses = new Set(links.map(({ host, canonical }) => `${host}/${canonical}`))
  const index = LinkIndex.of(links)
  return {
    index,
    links,
    hostIds,
    answers: (host, path) => addresses.has(`${host}/${canonicalSlug(path, samenessOf(host)) ?? ''}`),
  }
}

export interface LabelledMiss {
  kind: SlipKind | 'by hand'
  host: string
  /** The path as it was typed. */
  typed: string
  /** What the gateway reads of it. */
  path: string
  /** The id of the link that was meant. */
  meant: number
}

/** Mistypings of addresses, drawn by how often each is visited; every one is a miss. */
export function mistypings(register: DemoRegister, count: number, seed: number): LabelledMiss[] {
  const random = seeded(seed)
  const slip = makeSlips(
    random,
    [...register.hostIds.keys()].filter((host) => host !== HOSTS.coming),
  )
  const reach: number[] = []
  let sum = 0
  // Printed addresses are typed even where few do.
  for (const { visits } of register.links) reach.push((sum += visits + 4))
  const misses: LabelledMiss[] = []
  while (misses.length < count) {
    const share = random() * sum
    const link = register.links[reach.findIndex((upTo) => share < upTo)]!
    const { kind, host, typed } = slip(link.host, link.slug)
    const path = canonicalSlug(typed, samenessOf(host))
    if (path === undefined || path === '' || register.answers(host, typed)) continue
    misses.push({ kind, host, typed, path, meant: link.id })
  }
  return misses
}
