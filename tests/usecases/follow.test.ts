import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest'
import { answer } from '../../core/table'
import { connectionConfig } from '../../environment/database-url'
import { follow, type Follower } from '../../gateway/follow'
import { destinationHash } from '../../server/usecases/links/link-state'
import { Partner } from './partner'
import { TestRegister } from './register'

const LINKS = 120
let register: TestRegister
const followers: Follower[] = []
beforeAll(async () => (register = await TestRegister.start()))
afterAll(async () => {
  for (const follower of followers) await follower.stop()
  await register.stop()
})

/** A gateway's follower, once it has loaded the table. */
async function started(): Promise<Follower> {
  const follower = follow({ connection: connectionConfig(register.url), log: () => undefined })
  followers.push(follower)
  await vi.waitFor(() => expect(follower.connected).toBe(true), { timeout: 20_000, interval: 20 })
  return follower
}
const ask = (follower: Follower, path: string) => {
  const given = answer(follower.table, { method: 'GET', host: 'ansl.example', target: path }, Date.now())
  return given.location ?? given.status
}
const reaches = (follower: Follower, path: string, to: string | number) =>
  vi.waitFor(() => expect(ask(follower, path)).toBe(to), { timeout: 20_000, interval: 20 })

describe('a gateway’s follower', () => {
  it('takes changes in as they come, and says what it has reached', async () => {
    const follower = await started()
    const link = await register.link('fares', 'https://www.example/fares')
    await reaches(follower, '/fares', 'https://www.example/fares')
    await register.changeLink(link, { destination: 'https://www.example/prices', reason: 'for a test' })
    follower.nudge()
    await reaches(follower, '/fares', 'https://www.example/prices')
    const { revision } = await register.entry()
    await vi.waitFor(() => expect(follower.settledRevision).toBe(Number(revision)), { timeout: 20_000 })
    expect(follower.heardAt).toBeGreaterThan(Date.now() - 20_000)
  })

  it('goes on answering a printed address that is renamed shortly before a change to many takes effect', async () => {
    const createdAt = new Date()
    await register.db.Link.bulkCreate(
      Array.from({ length: LINKS }, (_, index) => ({
        domainId: 1,
        slug: `many/${index}`,
        canonical: `many/${index}`,
        destination: `https://old.example/${index}`,
        destinationHash: destinationHash(`https://old.example/${index}`),
        status: 302 as const,
        searchText: '',
        createdAt,
        updatedAt: createdAt,
      })),
    )
    const follower = await started()
    const partner = await Partner.make(register)
    const proposal = await partner.propose({
      select: { host: 'old.example' },
      change: { steps: [{ do: 'move-host', from: 'old.example', to: 'new.example' }] },
    })
    // More than 50 links: it takes effect 1.5 seconds after it was written, at all gateways together.
    expect((await partner.apply(proposal)).state).toBe('applied')
    const link = (await register.db.Link.findOne({ where: { canonical: 'many/7' } }))!
    await register.changeLink({ id: link.id, version: link.version } as never, { slug: 'renamed/7' })
    await reaches(follower, '/many/8', 'https://new.example/8')
    expect(ask(follower, '/many/7')).toBe('https://new.example/7')
    await reaches(follower, '/renamed/7', 'https://new.example/7')
    const fresh = await started()
    for (const path of ['/many/7', '/renamed/7', '/many/8']) expect(ask(fresh, path)).toBe(ask(follower, path))
  })
})
