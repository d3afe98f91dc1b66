import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { seeded } from '../../server/database/seed/chance'
import { pastQuery } from '../../core/schemas'
import { lookUpPast } from '../../server/usecases/ledger/look-up-past'
import { TestFides, until, type Told } from './fides'

/** Requests recorded as the gateway answered them while people went on changing things. */
const REQUESTS = 2000
const A_ROUND = 50

let fides: TestFides
beforeAll(async () => (fides = await TestFides.start()))
afterAll(() => fides.stop())

const control = () => `http://127.0.0.1:${fides.system.settings.FIDES_GATEWAY_CONTROL_PORT}`

/** Waits until the gateway answers by the newest entry of the ledger. */
async function live(): Promise<void> {
  const revision = Number((await fides.db.Organisation.findByPk(1))!.revision)
  await until('the change is live', async () => {
    const health = (await (await fetch(`${control()}/health`)).json()) as Told
    return health.revision >= revision
  })
}

describe('what an address led to at a moment', () => {
  it(`is what the gateway answered then, for ${REQUESTS} requests amid changes of all kinds`, async () => {
    const random = seeded(20_261_127)
    const pick = <Item>(items: readonly Item[]) => items[Math.floor(random() * items.length)]!
    const links: Told[] = []
    for (let index = 0; index < 12; index++)
      links.push(await fides.link({ slug: `seek-${index}`, destination: `https://d${index}.example/` }))
    const made = await fides.call('administrator', 'POST', '/rules', {
      domain: 'ansl.example',
      pattern: '/line/:id',
      destination: 'https://lines.example/{id}',
      reason: 'for a test',
    })
    let rule = made.body
    const again = async (index: number) => {
      const { body } = await fides.call('editor', 'GET', `/links/${links[index]!.id}`)
      links[index] = body
      return body as { id: number; version: number; standing: string }
    }
    const change = async () => {
      const index = Math.floor(random() * links.length)
      const link = await again(index)
      const kind = Math.floor(random() * 8)
      if (kind === 0) await fides.change(link, { standing: link.standing === 'live' ? 'paused' : 'live' })
      else if (kind === 1) await fides.change(link, { slug: `renamed-${Math.floor(random() * 1e6)}` })
      else if (kind === 2) links.push(await fides.link({ slug: `made-${Math.floor(random() * 1e6)}` }))
      else if (kind === 3) {
        const answer = await fides.call(
          'administrator',
          'PATCH',
          `/rules/${rule.id}`,
          { destination: `https://lines${Math.floor(random() * 100)}.example/{id}`, reason: 'for a test' },
          { 'if-match': `"${rule.version}"` },
        )
        rule = answer.body
      } else if (kind === 4) {
        const { body: domain } = await fides.call('administrator', 'GET', '/domains/1')
        await fides.call(
          'administrator',
          'PATCH',
          '/domains/1',
          { notFoundDestination: pick([null, `https://lost${Math.floor(random() * 9)}.example/`]) },
          { 'if-match': `"${domain.version}"` },
        )
      } else if (kind === 5) {
        const { body } = await fides.call('administrator', 'GET', '/ledger?limit=20')
        const entry = (body.items as Told[]).find(({ undoable }) => undoable)
        if (entry) await fides.call('administrator', 'POST', `/ledger/${entry.id}/undo`, { overwrite: true })
      } else
        await fides.change(link, {
          destination: `https://e${Math.floor(random() * 1e6)}.example/`,
          status: pick([301, 302, 307]),
        })
    }
    const recorded: { address: string; at: string; status: number; location: string | null }[] = []
    while (recorded.length < REQUESTS) {
      await change()
      await live()
      for (let count = 0; count < A_ROUND; count++) {
        const link = pick(links)
        const address = pick([
          () => link.address as string,
          () => link.address as string,
          () => `ansl.example/line/${Math.floor(random() * 9)}`,
          () => `ansl.example/seek-${Math.floor(random() * 14)}`,
          () => `ansl.example/none-${Math.floor(random() * 9)}`,
        ])()
        const at = new Date().toISOString()
        const { status, location } = await fides.visit(address)
        recorded.push({ address, at, status, location: location ?? null })
      }
      // The next change is a moment later for sure.
      await new Promise((resolve) => setTimeout(resolve, 3))
    }
    const wrong: object[] = []
    const kinds = new Set<string>()
    const queue = [...recorded]
    const look = async () => {
      for (let one = queue.pop(); one; one = queue.pop()) {
        const past = await lookUpPast(fides.db, pastQuery.parse({ address: one.address, at: one.at }))
        kinds.add(`${past.by} ${past.status}`)
        if (past.status !== one.status || past.location !== one.location) wrong.push({ one, past })
      }
    }
    await Promise.all(Array.from({ length: 4 }, look))
    expect(wrong.slice(0, 3)).toEqual([])
    expect(recorded.length).toBe(REQUESTS)
    // Links, rules, fallbacks and what was not found were all among them.
    expect(kinds.size).toBeGreaterThan(5)
  }, 240_000)
})
