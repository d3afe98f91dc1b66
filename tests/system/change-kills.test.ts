import { QueryTypes } from 'sequelize'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { seeded } from '../../server/database/seed/chance'
import { giveBackJobs } from '../../server/usecases/jobs/give-back'
import { destinationHash } from '../../server/usecases/links/link-state'
import { TestFides, until, type Told } from './fides'

/** How often each is killed; FIDES_CHANGE_KILLS asks for more. */
const KILLS = Number(process.env.FIDES_CHANGE_KILLS ?? 3)
const LINKS = 2500

let fides: TestFides
const at = (host: string, number: number) => `https://${host}.example/page/${number}`
beforeAll(async () => {
  fides = await TestFides.start({
    beside: async (db) => {
      const createdAt = new Date()
      await db.Link.bulkCreate(
        Array.from({ length: LINKS }, (_, index) => ({
          domainId: 1,
          slug: `k/${index}`,
          canonical: `k/${index}`,
          destination: at('host0', index),
          destinationHash: destinationHash(at('host0', index)),
          status: 302 as const,
          searchText: `ansl.example/k/${index}`,
          createdAt,
          updatedAt: createdAt,
        })),
      )
    },
  })
})
afterAll(() => fides.stop())

const call = (method: string, path: string, body?: unknown, headers?: Record<string, string>) =>
  fides.call('administrator', method, path, body, headers)
const answers = () =>
  until(
    'the desk answers',
    async () => (await call('GET', '/links?limit=1').catch(() => undefined))?.status === 200,
    60_000,
  )

/** How many links lead to each host. */
async function hosts(): Promise<Record<string, number>> {
  const rows = await fides.db.sequelize.query<{ host: string; links: number }>(
    `SELECT SUBSTRING_INDEX(SUBSTRING_INDEX(destination, '/', 3), '/', -1) AS host, COUNT(*) AS links FROM link
     WHERE slug LIKE 'k/%' GROUP BY host`,
    { type: QueryTypes.SELECT },
  )
  return Object.fromEntries(rows.map(({ host, links }) => [host, Number(links)]))
}

async function propose(from: string, to: string): Promise<Told> {
  const { body: made } = await call('POST', '/changes', {
    select: { host: `${from}.example` },
    change: { steps: [{ do: 'move-host', from: `${from}.example`, to: `${to}.example` }] },
    reason: 'for a test',
  })
  return until('worked out', async () => {
    const { body } = await call('GET', `/changes/${made.id}`)
    return body.state === 'ready' ? body : undefined
  })
}
const apply = ({ id, version }: Told) => call('POST', `/changes/${id}/apply`, {}, { 'if-match': `"${version}"` })

describe('a change to many links whose making is cut short', () => {
  it.each(['the desk', 'the database'] as const)(
    'by a kill of %s: is made whole or not at all, and can be made again',
    async (who) => {
      const random = seeded(who.length)
      let now = Object.keys(await hosts())[0]!.split('.')[0]!
      for (let kill = 1; kill <= KILLS; kill++) {
        const next = `${who === 'the desk' ? 'desk' : 'base'}${kill}`
        const proposal = await propose(now, next)
        const entries = await fides.db.LedgerEntry.count()
        const making = apply(proposal).catch(() => undefined)
        await new Promise((resolve) => setTimeout(resolve, 30 + random() * 700))
        if (who === 'the desk') fides.process('admin').child.kill('SIGKILL')
        else {
          await fides.system.crashDatabase()
          fides.system.takeDatabase(await fides.startDatabaseAgain())
        }
        await making
        await answers()
        const after = await hosts()
        const made = after[`${next}.example`] === LINKS
        expect(after, `kill ${kill}`).toEqual({ [`${made ? next : now}.example`]: LINKS })
        expect(await fides.db.LedgerEntry.count()).toBe(entries + Number(made))
        if (!made) {
          // Nobody keeps the lease up: once it lapses, whoever looks next gives the proposal back.
          await fides.db.Proposal.update(
            { leasedUntil: new Date(0) },
            { where: { id: proposal.id, state: 'applying' } },
          )
          await giveBackJobs(fides.db)
          const { body } = await call('GET', `/changes/${proposal.id}`)
          expect(body.state).toBe('ready')
          expect((await apply(body)).status).toBe(200)
          expect(await hosts()).toEqual({ [`${next}.example`]: LINKS })
        }
        now = next
      }
    },
    240_000,
  )
})
