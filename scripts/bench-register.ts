// npm run bench:register [-- LINKS…]: how long the desk takes, through its API, to list, search, count and show links
// and a case; at 1,000, 100,000 and 1,000,000 links unless told otherwise.
import { QueryTypes } from 'sequelize'
import { caseKey, reconcileCases, type Finding } from '../server/docket/keeper'
import { keepSearchIndex } from '../server/usecases/links/search/keep-index'
import { benchLink } from './bench-link'
import { BENCH_HOST, median, quantile, round, slugOf } from './bench-load'
import { BenchSystem, print } from './bench-system'
import { benchToken } from './bench-token'
import { buildIfChanged } from './build'
import { runCommand } from './run-command'

const given = process.argv.slice(2).map(Number)
const SIZES = given.length > 0 ? given : [1000, 100_000, 1_000_000]
const SEARCHES = 60
const TIMES = 15
const PLACES = ['harbour', 'market', 'old town', 'airport', 'university', 'north pier', 'depot', 'hospital']
const THINGS = ['departures', 'timetable', 'fares', 'map', 'diversion', 'survey', 'museum', 'bike hire']

const system = await BenchSystem.make()
const figures: Record<string, Record<string, number>> = {}

/** A link as a transit operator would have it, its words the same for many others. */
function linkOf(number: number, createdAt: Date) {
  const place = PLACES[(number * 7919) % PLACES.length]!
  const thing = THINGS[(number * 104_729) % THINGS.length]!
  const slug = slugOf(number)
  const destination = `https://live.portanseltransit.example/${thing.replace(' ', '-')}?stop=${number}`
  const title = `${thing} at ${place}, stop ${number}`
  const owner = number % 3 ? 'Passenger information' : 'Marketing'
  return benchLink({
    slug,
    destination,
    status: number % 9 ? (302 as const) : (301 as const),
    title,
    owner,
    searchText: `${BENCH_HOST}/${slug}\n${title}\n${destination}\n${owner}\n\n`.toLowerCase(),
    visits28: (number * 7919) % 5000,
    createdAt,
    updatedAt: new Date(createdAt.getTime() - number * 1000),
  })
}

const SEARCH_KINDS = ['Slug', 'WordAndNumber', 'Address', 'Word', 'TwoWords', 'Slip']
/** Searches as people make them: a number that is on a stop, two words, a pasted address, a slip, a word of most. */
function searchOf(size: number, time: number): string {
  const number = 1 + ((time * 7919) % size)
  const thing = THINGS[time % THINGS.length]!
  return [
    slugOf(number),
    `${thing} ${number}`,
    `https://${BENCH_HOST}/${slugOf(number)}/`,
    thing,
    `${PLACES[time % PLACES.length]} ${thing}`,
    `${thing.slice(0, 2)}${thing[3]}${thing[2]}${thing.slice(4)} ${number}`,
  ][time % 6]!
}

await runCommand(system, async () => {
  buildIfChanged(print)
  const db = await system.startDatabase()
  const createdAt = new Date()
  await db.Organisation.create({ name: 'Bench', timeZone: 'Europe/Lisbon', createdAt })
  await db.Domain.create({ host: BENCH_HOST, standing: 'open', createdAt, updatedAt: createdAt })
  await db.Tag.bulkCreate([{ name: 'common' }, { name: 'rare' }])
  const token = await benchToken(db, 'viewer')

  /** One question; gives its milliseconds. */
  const ask = async (path: string): Promise<number> => {
    const began = performance.now()
    const response = await fetch(`${system.adminAddress}/api/v1${path}`, {
      headers: { authorization: `Bearer ${token}` },
    })
    await response.arrayBuffer()
    if (!response.ok) throw new Error(`${path}: ${response.status}`)
    return performance.now() - began
  }

  let made = 0
  for (const size of SIZES) {
    while (made < size) {
      const numbers = Array.from({ length: Math.min(2000, size - made) }, (_, index) => made + index + 1)
      await db.Link.bulkCreate(numbers.map((number) => linkOf(number, createdAt)))
      await db.LinkTag.bulkCreate(numbers.map((number) => ({ linkId: number, tagId: number % 500 ? 1 : 2 })))
      made += numbers.length
    }
    print(`${size.toLocaleString('en')} links are there; indexing`)
    const began = performance.now()
    while ((await keepSearchIndex(db)) > 0);
    const indexSeconds = round((performance.now() - began) / 1000, 1)
    // Counts are remembered by revision; another size is another revision.
    await db.Organisation.update({ revision: size }, { where: { id: 1 } })
    await db.sequelize.query('ANALYZE TABLE link, link_tag, search_gram', { type: QueryTypes.SELECT })
    const [stored] = await db.sequelize.query<{ megabytes: number }>(
      "SELECT data_length / 1e6 AS megabytes FROM information_schema.tables WHERE table_name = 'search_gram' " +
        'AND table_schema = DATABASE()',
      { type: QueryTypes.SELECT },
    )
    if (made === SIZES[0]) await openCase()
    if (!system.processes.some(({ name }) => name === 'admin')) {
      system.start('gateway', ['dist/gateway.mjs'])
      await system.startApplication({ FIDES_RESOLVERS: 'nobody=127.0.0.1:9' })
      // Nothing but the desk works while it is measured.
      await system.end('worker')
    }
    for (let time = 0; time < 6; time++) await ask(`/links?q=${encodeURIComponent(searchOf(size, time + 1000))}`)

    const times: Record<string, number[]> = {}
    const measure = async (what: string, path: string) => (times[what] ??= []).push(await ask(path))
    for (let time = 0; time < SEARCHES; time++) {
      await measure('search', `/links?q=${encodeURIComponent(searchOf(size, time))}`)
      ;(times[`search${SEARCH_KINDS[time % 6]}`] ??= []).push(times.search!.at(-1)!)
    }
    // Counts are remembered until a change: each is asked once.
    for (let time = 0; time < TIMES; time++)
      await measure('searchCounts', `/links/counts?q=${encodeURIComponent(slugOf(1 + ((time * 7919) % size)))}`)
    await measure('counts', '/links/counts')
    for (let time = 0; time < TIMES; time++) {
      await measure('list', '/links')
      await measure('byAddress', '/links?sort=address')
      await measure('filtered', `/links?domain=${BENCH_HOST}&standing=live&redirect=permanent`)
      await measure('tagged', '/links?tag=rare')
      await measure('link', `/links/${1 + ((time * 7919) % size)}`)
      await measure('case', '/cases/1')
    }
    const shown: Record<string, number> = (figures[`at${size}`] = {
      indexSeconds,
      indexMegabytes: round(Number(stored?.megabytes ?? 0), 1),
    })
    for (const [what, taken] of Object.entries(times)) {
      shown[`${what}Ms`] = round(median(taken), 1)
      if (what === 'search') shown.searchP95Ms = round(quantile(taken, 0.95), 1)
    }
    print(JSON.stringify(shown))
  }
  await system.leave()

  /** A case as the target lane has it. */
  async function openCase(): Promise<void> {
    const of = { kind: 'not-found', domainId: 1, linkId: 1, subject: `${BENCH_HOST}/${slugOf(1)}` } as const
    const finding: Finding = {
      ...of,
      key: caseKey(of),
      links: [1],
      severity: 'broken',
      headline: 'Page not found',
      sentence: 'The page answers 404.',
      evidence: [],
      impact: 12,
      harmAt: null,
      print: null,
      conflict: null,
    }
    await reconcileCases(db, [finding], { there: [], now: createdAt })
  }
})
print(JSON.stringify({ bench: 'register', ...figures }))
process.exit(0)
