import { gunzipSync } from 'node:zlib'
import { LRUCache } from 'lru-cache'
import { locationUrl, readSitemap } from '../../../core/targets'
import { askHop } from '../../targets/ask-hop'
import type { Asker } from '../../targets/asker'
import { readRobots } from './robots'

/** Files read of one site, and addresses taken of it. */
const MAX_FILES = 30
const MAX_PAGES = 100_000
const MAX_REDIRECTS = 5
const KEPT_MS = 6 * 3_600_000

/** What a site tells of its pages. */
export interface SitePages {
  pages: string[]
  /** Where that stands; empty where it tells nothing. */
  from: string
}

const kept = new LRUCache<string, Promise<SitePages>>({ max: 200, ttl: KEPT_MS })

/**
 * The pages a site lists: the sitemaps its robots.txt names, else `/sitemap.xml`, index files and packed ones included
 * (sitemaps.org protocol). Nothing is fetched that robots.txt forbids (RFC 9309); where that cannot be had for a fault
 * of the server, nothing is (§2.3.1.4). Kept for six hours.
 */
export function sitePages(asker: Asker, origin: string, fresh = false): Promise<SitePages> {
  const known = fresh ? undefined : kept.get(origin)
  if (known) return known
  const read = readSite(asker, origin)
  kept.set(origin, read)
  read.catch(() => kept.delete(origin))
  return read
}

async function readSite(asker: Asker, origin: string): Promise<SitePages> {
  const robotsUrl = `${origin}/robots.txt`
  const { allows, sitemaps } = readRobots(robotsUrl, await get(asker, robotsUrl))
  const named = sitemaps.slice(0, MAX_FILES)
  const waiting = named.length > 0 ? named : [`${origin}/sitemap.xml`]
  const pages = new Set<string>()
  const seen = new Set<string>()
  let from = ''
  while (waiting.length > 0 && seen.size < MAX_FILES && pages.size < MAX_PAGES) {
    const url = waiting.shift()!
    if (seen.has(url) || !allows(url)) continue
    seen.add(url)
    const file = await get(asker, url)
    if (file?.status !== 200) continue
    from ||= url
    const map = readSitemap(file.text, url)
    for (const page of map.pages) if (pages.size < MAX_PAGES) pages.add(page)
    waiting.push(...map.files)
  }
  return { pages: [...pages], from }
}

/** Most octets of one file, unpacked. */
const MAX_UNPACKED = 8 * 1024 * 1024

async function get(asker: Asker, from: string): Promise<{ status: number; text: string } | undefined> {
  let url = from
  for (let hop = 0; hop <= MAX_REDIRECTS; hop++) {
    const asked = await askHop(asker, {
      url,
      method: 'GET',
      via: hop === 0 ? 'request' : 'status',
      cookies: '',
      accept: 'application/xml,text/xml,text/plain;q=0.9,*/*;q=0.5',
      mostOctets: MAX_UNPACKED,
    })
    const { hop: answer, body } = asked
    if (answer.fault || answer.status === null) return undefined
    if (answer.status >= 300 && answer.status < 400 && answer.location !== null) {
      const next = locationUrl(answer.location, url)
      if (!next.ok) return undefined
      url = next.url
      continue
    }
    const octets = body?.octets ?? Buffer.alloc(0)
    return { status: answer.status, text: unpacked(octets).toString('utf8') }
  }
  return undefined
}

/** A file packed as such, not on its way only. */
function unpacked(octets: Buffer): Buffer {
  if (octets[0] !== 0x1f || octets[1] !== 0x8b) return octets
  try {
    return gunzipSync(octets, { maxOutputLength: MAX_UNPACKED })
  } catch {
    return Buffer.alloc(0)
  }
}
