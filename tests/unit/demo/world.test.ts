import { describe, expect, it } from 'vitest'
import { canonicalSlug } from '../../../core/address'
import { linkCreate } from '../../../core/schemas'
import { seeded } from '../../../server/database/seed/chance'
import { portAnselLinks } from '../../../server/database/seed/port-ansel'
import { HOSTS } from '../../../server/database/seed/port-ansel-links'
import { Crowd } from '../../../standins/visitors/crowd'

const links = portAnselLinks()
const DAY = 86_400_000

describe('Port Ansel Transit', () => {
  it('has 1,200 links over three domains and a few on small ones, the same for the same seed', () => {
    expect(links).toHaveLength(1208)
    const count = (host: string) => links.filter((link) => link.host === host).length
    expect([count(HOSTS.apex), count(HOSTS.beside), count(HOSTS.coming)]).toEqual([868, 311, 21])
    expect(portAnselLinks()).toEqual(links)
    expect(portAnselLinks(1)).not.toEqual(links)
  })

  it('gives no address twice, by each domain’s own reading', () => {
    expect(
      new Set(
        links.map((link) =>
          [
            link.host,
            canonicalSlug(link.slug, { capitalsMatter: link.host === HOSTS.beside, trailingSlashMatters: false }),
          ].join('/'),
        ),
      ).size,
    ).toBe(links.length)
  })

  it('holds only links an editor could make', () => {
    for (const link of links) {
      const result = linkCreate.safeParse({
        domain: link.host,
        slug: link.slug,
        destination: link.destination,
        title: link.title,
        note: link.note,
        tags: link.tags,
        owner: link.owner,
        status: link.status,
        query: link.query,
      })
      expect(result.success, `${link.host}/${link.slug}`).toBe(true)
    }
  })

  it('uses reserved names only (RFC 2606)', () => {
    for (const link of links) {
      for (const address of [
        `https://${link.host}/`,
        link.destination,
        link.endedDestination,
        ...link.earlier.map((earlier) => earlier.destination),
      ]) {
        if (address) expect(new URL(address).hostname).toMatch(/\.(example|test)$/)
      }
    }
  })

  it('has links of every standing, both kinds of redirect, ends and history', () => {
    expect(new Set(links.map((link) => link.standing))).toEqual(new Set(['live', 'paused', 'ended', 'retired']))
    expect(links.filter((link) => link.startsAgo !== null && link.startsAgo < 0).length).toBeGreaterThan(3)
    expect(links.filter((link) => link.endsAgo !== null && link.endsAgo > 0).length).toBeGreaterThan(20)
    expect(links.filter((link) => link.earlier.length > 0).length).toBeGreaterThan(10)
    expect(links.filter((link) => link.status === 301 || link.status === 308).length).toBeGreaterThan(20)
    expect(links.filter((link) => link.note !== '').length).toBeGreaterThan(10)
  })
})

describe('the crowd', () => {
  const posters = links.filter((link) => link.weight > 0)
  const crowd = () => new Crowd(posters, seeded(1))
  const monday = Date.UTC(2026, 10, 16)

  it('comes with the weekday and the season', () => {
    const size = (day: number) => crowd().sizeOfDay(day, 10_000)
    expect(size(monday - DAY)).toBeLessThan(size(monday) * 0.75)
    const sum = (start: number) =>
      Array.from({ length: 7 }, (_, day) => size(start + day * DAY)).reduce((a, b) => a + b)
    expect(sum(Date.UTC(2026, 5, 15))).toBeGreaterThan(sum(Date.UTC(2026, 11, 14)) * 1.2)
  })

  it('travels at the hours people travel', () => {
    const from = crowd()
    const hours = Array<number>(24).fill(0)
    for (let visit = 0; visit < 20_000; visit++) hours[new Date(from.momentOfDay(monday)).getUTCHours()]!++
    expect(hours[17]!).toBeGreaterThan(hours[3]! * 6)
    expect(hours[7]!).toBeGreaterThan(hours[10]!)
    expect(hours.reduce((a, b) => a + b)).toBe(20_000)
  })

  it('lives at addresses reserved for documentation (RFC 5737), and goes where posters are', () => {
    const from = crowd()
    const hosts = new Set(posters.map((poster) => poster.host))
    let misses = 0
    for (let visit = 0; visit < 5000; visit++) {
      const request = from.request(monday, 0)
      expect(request.address).toMatch(/^(192\.0\.2|198\.51\.100|203\.0\.113)\.\d{1,3}$/)
      expect(hosts.has(request.host)).toBe(true)
      const slug = request.target.slice(1).split('?')[0]!
      if (!posters.some((poster) => poster.host === request.host && poster.slug === slug)) misses++
    }
    expect(misses).toBeGreaterThan(20)
    expect(misses).toBeLessThan(250)
  })

  it('does not come to a poster before it went up', () => {
    const few = new Crowd(
      [
        { host: 'old.example', slug: 'old', weight: 1, madeAgo: 100 },
        { host: 'new.example', slug: 'new', weight: 9, madeAgo: 5 },
      ],
      seeded(3),
    )
    const hosts = Array.from({ length: 200 }, () => few.request(monday, 50).host)
    expect(hosts.filter((host) => host === 'new.example')).toEqual([])
  })
})
