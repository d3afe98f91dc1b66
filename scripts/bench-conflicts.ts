// npm run bench:conflicts: a full scan at 10,000 and at 100,000 links with 200 rules by the worker itself, how soon
// findings are current after one edit, and what patterns cost that explode other matchers.
import { mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { judgePattern, makeMatcher, readPattern } from '../core/patterns'
import { seeded } from '../server/database/seed/chance'
import { migrate } from '../server/database/migrate'
import type { DocketCaseModel } from '../server/database/models/docket-case'
import { openDatabase } from '../server/database/open'
import { changeLink } from '../server/usecases/links/change-link'
import { askForScan, readScan } from '../server/usecases/conflicts/conflict-scan'
import { changeRule } from '../server/usecases/rules/rules'
import { benchLink } from './bench-link'
import { buildIfChanged } from './build'
import { startMariaDb } from './mariadb'
import { freePort } from './ports'
import { startNode } from './processes'
import { WORKER } from './system'

const SIZES = [10_000, 100_000]
const RULES = 200
const EDITS = 7
/** What a scan of 100,000 links is promised to need at most. */
const MAX_SECONDS = 3
const MAX_MEGABYTES = 350
const actor = { memberId: null, name: 'Bench', role: 'administrator' as const }
const print = (line: string) => process.stdout.write(line + '\n')

buildIfChanged(print)
const folder = mkdtempSync(join(tmpdir(), 'fides-bench-'))
const server = await startMariaDb(folder, await freePort())
const db = openDatabase(server.url)
const random = seeded(4117)
const letters = (count: number) =>
  Array.from({ length: count }, () => 'abcdefghjkmnpqrstuvwxyz23456789'[Math.floor(random() * 31)]).join('')
const median = (numbers: number[]) => [...numbers].sort((a, b) => a - b)[numbers.length >> 1]!
const round = (number: number, digits = 0) => Number(number.toFixed(digits))

/** The first two thirds are a numbered family, the rest words drawn at random, some twins, some slips, some chains. */
function slugOf(number: number): string {
  if (number % 3 > 0) return `stop/${number}`
  return number % 2 ? letters(7) : `works/${letters(6)}-${number % 90}`
}
const destinationOf = (number: number) =>
  number % 997 === 0
    ? 'https://bench.example/stop/1'
    : number % 503 === 0
      ? 'https://www.portanseltransit.example/fares'
      : number % 3 > 0
        ? `https://live.portanseltransit.example/departures?stop=${number}`
        : `https://www.portanseltransit.example/pages/${number}`

const scans: Record<number, { seconds: number; found: number; peakMB: number }> = {}
const edits: Record<string, number> = {}
try {
  await migrate(db.sequelize)
  const now = new Date()
  await db.Organisation.create({ name: 'Bench', timeZone: 'Europe/Lisbon', createdAt: now })
  await db.Domain.create({
    host: 'bench.example',
    standing: 'open',
    capitalsMatter: false,
    createdAt: now,
    updatedAt: now,
  })
  await db.Rule.bulkCreate(
    Array.from({ length: RULES }, (_, index) => ({
      domainId: 1,
      position: index + 1,
      title: '',
      syntax: 'path' as const,
      status: 302 as const,
      active: true,
      note: '',
      createdAt: now,
      updatedAt: now,
      pattern:
        index === 0
          ? '/stop/:id(\\d+)'
          : [`/family${index}/*`, `/family${index - 1}/:id`, `/part${index}/:a/:b(\\d+)?`, `/page${index}{-:x}?.html`][
              index % 4
            ]!,
      destination:
        index === 0
          ? 'https://live.portanseltransit.example/departures?stop={id}'
          : `https://www.portanseltransit.example/family/${index}`,
    })),
  )
  let made = 0
  const taken = new Set<string>()
  for (const size of SIZES) {
    while (made < size) {
      const rows = Array.from({ length: Math.min(2500, size - made) }, (_, index) => made + index + 1).map((number) => {
        let slug = slugOf(number)
        while (taken.has(slug)) slug = letters(9)
        taken.add(slug)
        return benchLink({ id: number, slug, destination: destinationOf(number), visits28: (number * 7919) % 5000 })
      })
      await db.Link.bulkCreate(rows)
      made += rows.length
    }
    const worker = startNode(
      'worker',
      WORKER,
      {
        FIDES_DATABASE_URL: server.url,
        FIDES_SECRET: 'x'.repeat(32),
        FIDES_RESOLVERS: 'nobody=127.0.0.1:9',
        FIDES_WATCH_SECONDS: '3600',
        NODE_ENV: 'production',
      },
      () => undefined,
      () => undefined,
    )
    try {
      const { id } = await askForScan(db, actor)
      for (;;) {
        const scan = await readScan(db, id)
        if (scan.state === 'done') {
          const peak =
            Number(/VmHWM:\s+(\d+)/.exec(readFileSync(`/proc/${worker.child.pid}/status`, 'utf8'))![1]) / 1024
          scans[size] = {
            seconds: round((Date.parse(scan.endedAt!) - Date.parse(scan.beganAt!)) / 1000, 2),
            found: Object.values(scan.found).reduce((sum, count) => sum + count, 0),
            peakMB: round(peak),
          }
          break
        }
        if (scan.state === 'failed') throw new Error(scan.error ?? 'the scan failed')
        await new Promise((resolve) => setTimeout(resolve, 50))
      }
      if (size === SIZES.at(-1)) await measureEdits()
    } finally {
      await worker.stop()
    }
  }
} finally {
  await db.sequelize.close()
  await server.stop()
  rmSync(folder, { recursive: true, force: true })
}

/** From the moment an edit is committed that mends a finding to the moment its case is settled in the docket. */
async function measureEdits(): Promise<void> {
  const untilSettled = async (row: DocketCaseModel) => {
    const committed = Date.now()
    for (;;) {
      await row.reload()
      if (row.state === 'settled') return Date.now() - committed
      if (Date.now() - committed > 60_000) throw new Error(`${row.subject} was not settled`)
      await new Promise((resolve) => setTimeout(resolve, 10))
    }
  }
  const open = (kind: string) =>
    db.DocketCase.findAll({ where: { lane: 'conflicts', kind, state: 'open' }, order: ['id'], limit: EDITS })
  const linkMs: number[] = []
  for (const [edit, row] of (await open('chain')).entries()) {
    const link = (await db.Link.findByPk(row.conflict!.links[0]))!
    await changeLink(db, actor, Number(link.id), link.version, { destination: `https://edits.example/${edit}` })
    linkMs.push(await untilSettled(row))
  }
  const ruleMs: number[] = []
  for (const [edit, row] of (await open('hidden')).filter((one) => one.conflict!.links.length === 0).entries()) {
    const rule = (await db.Rule.findByPk(row.conflict!.rules[0]))!
    await changeRule(db, actor, Number(rule.id), rule.version, { pattern: `/edited${edit}/:x` })
    ruleMs.push(await untilSettled(row))
  }
  Object.assign(edits, {
    linkEdits: linkMs.length,
    linkMs: round(median(linkMs)),
    linkMostMs: Math.max(...linkMs),
    ruleEdits: ruleMs.length,
    ruleMs: round(median(ruleMs)),
    ruleMostMs: Math.max(...ruleMs),
  })
}

const same = { capitalsMatter: true, trailingSlashMatters: false }
function pattern(source: string) {
  const reading = readPattern('expression', source, false)
  if (!reading.ok) throw new Error(reading.sentence)
  return reading.pattern
}
const timed = (work: () => unknown) => {
  const began = performance.now()
  work()
  return performance.now() - began
}
const exploding = makeMatcher(pattern('/(a+)+$'), false)
for (let warm = 0; warm < 20; warm++) exploding.match('a'.repeat(1000) + '!')
const [short, long] = [1000, 10_000].map((length) =>
  median(Array.from({ length: 9 }, () => timed(() => exploding.match('a'.repeat(length) + '!')))),
)
const refusedMs = Math.max(
  ...['/(a|b)*a(a|b){20}', '/((a{100}){100}){100}', '/(.*a.{30})', '/(?:(?:a|b)*c){3}(?:a|b|c)*a[abc]{14}x'].map(
    (source) =>
      timed(() => {
        if (judgePattern({ pattern: pattern(source) }, same) === undefined) throw new Error(`${source} was not refused`)
      }),
  ),
)
const [first, last] = [scans[SIZES[0]!]!, scans[SIZES[1]!]!]
print(
  JSON.stringify({
    bench: 'conflicts',
    links: SIZES[1],
    rules: RULES,
    scanSeconds: last.seconds,
    limitSeconds: MAX_SECONDS,
    peakMB: last.peakMB,
    limitMB: MAX_MEGABYTES,
    found: last.found,
    scanSeconds10000: first.seconds,
    growth10000To100000: round(last.seconds / first.seconds, 1),
    editLimitMs: 1000,
    ...edits,
    backtrackingPattern10000CharactersMs: round(long!, 1),
    growth1000To10000Characters: round(long! / short!, 1),
    explodingRefusedMs: round(refusedMs),
    explodingLimitMs: 1000,
  }),
)
if (last.seconds > MAX_SECONDS || last.peakMB > MAX_MEGABYTES) process.exitCode = 1
