// npm run bench:register: how long the register's questions take at 1,000 and at 100,000 links.
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { QueryTypes } from 'sequelize'
import { linkListQuery } from '../core/schemas'
import { openDatabase } from '../server/database/open'
import { migrate } from '../server/database/migrate'
import { countLinks } from '../server/usecases/links/count-links'
import { listLinks } from '../server/usecases/links/list-links'
import { benchLink } from './bench-link'
import { startMariaDb } from './mariadb'
import { freePort } from './ports'

const SIZES = [1000, 100_000]
const TIMES = 9
const QUESTIONS: Record<string, object> = {
  first: {},
  byAddress: { sort: 'address' },
  searchRare: { q: 'stop/4417' },
  searchCommon: { q: 'departures', sort: 'changed' },
  searchNothing: { q: 'no such words' },
  filtered: { domain: 'bench.example', standing: 'live', redirect: 'permanent' },
  tagged: { tag: 'rare' },
}

const folder = mkdtempSync(join(tmpdir(), 'fides-bench-'))
const server = await startMariaDb(folder, await freePort())
const db = openDatabase(server.url)
const median = (numbers: number[]) => [...numbers].sort((a, b) => a - b)[numbers.length >> 1]!
const figures: Record<string, Record<string, number>> = {}
try {
  await migrate(db.sequelize)
  const createdAt = new Date()
  await db.Organisation.create({ name: 'Bench', timeZone: 'Europe/Lisbon', createdAt })
  await db.Domain.create({ host: 'bench.example', standing: 'open', createdAt, updatedAt: createdAt })
  await db.Tag.bulkCreate([{ name: 'common' }, { name: 'rare' }])

  let made = 0
  for (const size of SIZES) {
    while (made < size) {
      const rows = Array.from({ length: Math.min(2000, size - made) }, (_, index) => made + index + 1)
      await db.Link.bulkCreate(
        rows.map((number) =>
          benchLink({
            slug: `stop/${number}`,
            destination: `https://live.portanseltransit.example/departures?stop=${number}`,
            status: number % 9 ? (302 as const) : (301 as const),
            title: `Stop ${number}`,
            owner: 'Bench',
            searchText:
              `bench.example/stop/${number}\nstop ` +
              `${number}\nhttps://live.portanseltransit.example/departures?stop=${number}`,
            visits28: (number * 7919) % 5000,
            createdAt,
            updatedAt: new Date(createdAt.getTime() - number * 1000),
          }),
        ),
      )
      await db.LinkTag.bulkCreate(rows.map((number) => ({ linkId: number, tagId: number % 500 ? 1 : 2 })))
      made += rows.length
    }
    // Counts are remembered by revision; another size is another revision.
    await db.Organisation.update({ revision: size }, { where: { id: 1 } })
    await db.sequelize.query('ANALYZE TABLE link, link_tag', { type: QueryTypes.SELECT })
    const times: Record<string, number> = (figures[`ms${size}`] = {})
    for (const [name, query] of Object.entries(QUESTIONS)) {
      const taken: number[] = []
      for (let time = 0; time < TIMES; time++) {
        const began = performance.now()
        await listLinks(db, linkListQuery.parse(query))
        taken.push(performance.now() - began)
      }
      times[name] = Number(median(taken).toFixed(1))
    }
    // Counts are remembered until a change: only the first asking of each tells.
    const began = performance.now()
    await countLinks(db, {})
    times.counts = Number((performance.now() - began).toFixed(1))
    const again = performance.now()
    await countLinks(db, {})
    times.countsRemembered = Number((performance.now() - again).toFixed(1))
  }
} finally {
  await db.sequelize.close()
  await server.stop()
  rmSync(folder, { recursive: true, force: true })
}
process.stdout.write(JSON.stringify({ bench: 'register', ...figures }) + '\n')
