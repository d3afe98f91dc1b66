// npm run bench:together: at 100,000 links, how long anybody else's requests are held up while somebody adds a domain
// or changes whether capitals matter. A request that reads is asked over and over, in quiet and meanwhile. Beside how
// long it took (`ms`) stands how long the desk's event loop was held up at most (`loop`): the difference is what the
// database and a processor shared with all the rest add.
import { resolve } from 'node:path'
import { hashPassword } from '../server/usecases/people/password'
import { benchLink } from './bench-link'
import { BenchSystem, print } from './bench-system'
import { buildIfChanged } from './build'

const LINKS = 100_000
const QUIET_MS = 5000
const PASSWORD = 'a password for benches'
const LOOP = `--require=${resolve('scripts/bench-loop.cjs')}`

buildIfChanged(print)
const system = await BenchSystem.make((line) => {
  const held = /^admin: held up ([\d.]+) ms, worked ([\d.]+) ms$/.exec(line)
  if (held) holds.push({ heldMs: Number(held[1]), workedMs: Number(held[2]) })
  else if (!line.includes(': held up ')) print(line)
})
/** How often, and for how long, the desk's event loop was held up since the last measuring began. */
let holds: { heldMs: number; workedMs: number }[] = []
let cookie = ''

/** Asks the desk; gives the answer and how long it took, in milliseconds. */
async function ask(method: string, path: string, body?: object, headers: Record<string, string> = {}) {
  const began = performance.now()
  const response = await fetch(`${system.adminAddress}/api/v1${path}`, {
    method,
    headers: {
      cookie,
      'sec-fetch-site': 'same-origin',
      ...(body && { 'content-type': 'application/json' }),
      ...headers,
    },
    body: body && JSON.stringify(body),
  })
  const given = (await response.json()) as Record<string, unknown>
  const set = response.headers.get('set-cookie')?.split(';')[0] ?? ''
  return { status: response.status, body: given, ms: performance.now() - began, cookie: set }
}

/** How long a small request took, asked over and over until `work` is done, in milliseconds. */
async function meanwhile(work: () => Promise<unknown>): Promise<object> {
  let done = false
  holds = []
  const began = performance.now()
  const working = work().finally(() => (done = true))
  const taken: number[] = []
  do {
    const { status, ms } = await ask('GET', '/session')
    if (status !== 200) throw new Error(`GET /session answered ${status}`)
    taken.push(ms)
    await new Promise((resolve) => setTimeout(resolve, 2))
  } while (!done)
  await working
  taken.sort((a, b) => a - b)
  const at = (part: number) => Number(taken[Math.min(taken.length - 1, Math.floor(taken.length * part))]!.toFixed(1))
  const longest = holds.reduce((most, hold) => (hold.heldMs > most.heldMs ? hold : most), { heldMs: 0, workedMs: 0 })
  const worked = holds.map(({ workedMs }) => workedMs)
  const loop = {
    mostMs: longest.heldMs,
    ofWhichWorkedMs: Math.round(longest.workedMs),
    mostWorkedMs: Math.max(0, ...worked),
  }
  return { p50: at(0.5), p99: at(0.99), most: at(1), loop, workMs: Math.round(performance.now() - began) }
}

const must = (answered: { status: number; body: unknown }, status: number) => {
  if (answered.status !== status) throw new Error(`${answered.status}: ${JSON.stringify(answered.body).slice(0, 500)}`)
}

const figures: Record<string, object> = {}
try {
  const db = await system.startDatabase()
  const createdAt = new Date()
  await db.Organisation.create({ name: 'Bench', timeZone: 'Europe/Lisbon', createdAt })
  const passwordHash = await hashPassword(PASSWORD)
  await db.Member.create({ email: 'a@bench.example', name: 'Bench', role: 'administrator', passwordHash, createdAt })
  await db.Domain.create({
    host: 'bench.example',
    standing: 'open',
    capitalsMatter: false,
    createdAt,
    updatedAt: createdAt,
  })
  for (let from = 0; from < LINKS; from += 2000)
    await db.Link.bulkCreate(
      Array.from({ length: 2000 }, (_, index) => {
        const number = from + index
        const destination = `https://live.portanseltransit.example/departures?stop=${number}`
        // One in fifty is written with a capital, and so has another address where capitals matter.
        const slug = number % 50 ? `stop/${number}` : `Stop/${number}`
        return benchLink({ slug, destination })
      }),
    )
  await system.startApplication({
    FIDES_RESOLVERS: 'nobody=127.0.0.1:9',
    FIDES_WATCH_SECONDS: '3600',
    NODE_OPTIONS: LOOP,
  })
  cookie = (await ask('POST', '/session', { email: 'a@bench.example', password: PASSWORD })).cookie
  // The register in memory is made at the first question that needs it.
  must(
    await ask('POST', '/slugs/check', {
      domain: 'bench.example',
      slug: 'x',
      title: '',
      destination: 'https://x.example/',
    }),
    200,
  )
  await new Promise((resolve) => setTimeout(resolve, 8000))

  figures.quiet = await meanwhile(() => new Promise((resolve) => setTimeout(resolve, QUIET_MS)))
  figures.addDomain = await meanwhile(async () => {
    must(await ask('POST', '/domains', { host: 'new.example' }), 201)
    // The first question afterwards that needs the register.
    const check = { domain: 'new.example', slug: 'x', title: '', destination: 'https://x.example/' }
    must(await ask('POST', '/slugs/check', check), 200)
    await new Promise((resolve) => setTimeout(resolve, QUIET_MS))
  })
  const rules = (await ask('GET', '/domains/1/slug-rules')).body
  const { capacity: _capacity, usualBlocked: _usual, version, ...given } = rules
  figures.changeCapitals = await meanwhile(async () => {
    const changed = { ...given, capitalsMatter: true, reason: 'bench', otherwise: 'keep' }
    must(await ask('PUT', '/domains/1/slug-rules', changed, { 'if-match': `"${String(version)}"` }), 200)
    const check = { domain: 'bench.example', slug: 'x', title: '', destination: 'https://x.example/' }
    must(await ask('POST', '/slugs/check', check), 200)
    await new Promise((resolve) => setTimeout(resolve, QUIET_MS))
  })
} finally {
  await system.leave()
}
print(JSON.stringify({ bench: 'together', links: LINKS, ms: figures }))
process.exit(0)
