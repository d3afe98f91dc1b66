// npm run bench:desk: what a person at the desk waits for: how much travels for the first view, when it can be used on
// a processor four times slower, how far things jump, and how long another section takes.
import { chromium, type BrowserContext, type Page } from '@playwright/test'
import { DEMO_PASSWORD, writeDemo } from '../server/database/seed/write-demo'
import { median, round } from './bench-load'
import { BenchSystem, print } from './bench-system'
import { buildIfChanged } from './build'
import { runCommand } from './run-command'

const TIMES = 5
const SLOWER = 4
const FLAGS = ['--no-sandbox', '--disable-gpu', '--disable-quic', '--no-first-run', '--disable-background-networking']
/** Sections by their keys, with what is there once they can be used. */
const SECTIONS = [
  ['Register', 'Register'],
  ['Domains', 'Domains'],
  ['Traffic', 'Traffic'],
  ['Ledger', 'Ledger'],
  ['Docket', 'Docket'],
] as const
const VIEWS = ['/docket', '/register', '/links/2', '/domains', '/traffic', '/ledger']

const system = await BenchSystem.make()
const figures: Record<string, number> = {}

/** A page in a browser that has seen nothing yet. */
async function freshPage(context: BrowserContext): Promise<Page> {
  const page = await context.newPage()
  // The stream of live events never ends, and a page with it is never idle.
  await page.route('**/api/v1/traffic/events', (route) => route.abort())
  return page
}

const isReady = (page: Page, heading: string) =>
  page.getByRole('heading', { name: heading, exact: true }).first().waitFor({ state: 'visible' })

await runCommand(system, async () => {
  buildIfChanged(print)
  const db = await system.startDatabase()
  await writeDemo(db)
  await system.startApplication({ FIDES_RESOLVERS: 'nobody=127.0.0.1:9' })
  const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: FLAGS })
  const inContext = async <Told>(work: (context: BrowserContext) => Promise<Told>): Promise<Told> => {
    const context = await browser.newContext({ viewport: { width: 1280, height: 800 } })
    try {
      await context.request.post(`${system.adminAddress}/api/v1/session`, {
        headers: { 'sec-fetch-site': 'same-origin' },
        data: { email: 'admin@portansel.example', password: DEMO_PASSWORD },
      })
      return await work(context)
    } finally {
      await context.close()
    }
  }

  Object.assign(figures, await inContext(measureTransfer))
  const usable: number[] = []
  for (let time = 0; time < TIMES; time++) usable.push(await inContext(measureUsable))
  figures.usableSlowedMs = round(median(usable), 0)
  figures.layoutShift = round(await inContext(measureShift), 4)
  figures.sectionMs = round(await inContext(measureSections), 0)
  await browser.close()
  await system.leave()
})
print(JSON.stringify({ bench: 'desk', ...figures }))
process.exit(0)

/** What travels until the docket is there and nothing more comes, in kilobytes; what is fetched ahead, by itself. */
async function measureTransfer(context: BrowserContext): Promise<Record<string, number>> {
  const page = await freshPage(context)
  const session = await context.newCDPSession(page)
  await session.send('Network.enable')
  const kinds = new Map<string, string>()
  // What the first view needs is asked for with a higher priority, also where it is fetched ahead besides.
  const needed = new Set<string>()
  const ahead = new Map<string, string>()
  let [code, fonts, others, fetchedAhead] = [0, 0, 0, 0]
  session.on('Network.requestWillBeSent', ({ requestId, request }) => {
    if (request.initialPriority === 'VeryLow') ahead.set(requestId, request.url)
    else needed.add(request.url)
  })
  session.on('Network.responseReceived', ({ requestId, response }) => kinds.set(requestId, response.mimeType))
  session.on('Network.loadingFinished', ({ requestId, encodedDataLength }) => {
    const kind = kinds.get(requestId) ?? ''
    if (ahead.has(requestId) && !needed.has(ahead.get(requestId)!)) fetchedAhead += encodedDataLength
    else if (/javascript|css/.test(kind)) code += encodedDataLength
    else if (/font/.test(kind)) fonts += encodedDataLength
    else others += encodedDataLength
  })
  await page.goto(`${system.adminAddress}/docket`)
  await isReady(page, 'Docket')
  await page.waitForLoadState('networkidle')
  const kilobytes = (octets: number) => round(octets / 1000, 0)
  return {
    codeKilobytes: kilobytes(code),
    fontKilobytes: kilobytes(fonts),
    answerKilobytes: kilobytes(others),
    aheadKilobytes: kilobytes(fetchedAhead),
  }
}

/** When the docket's first case is there, on a slowed processor, in milliseconds from the first byte asked for. */
async function measureUsable(context: BrowserContext): Promise<number> {
  const page = await freshPage(context)
  const session = await context.newCDPSession(page)
  await session.send('Emulation.setCPUThrottlingRate', { rate: SLOWER })
  const began = performance.now()
  await page.goto(`${system.adminAddress}/docket`, { waitUntil: 'commit' })
  await isReady(page, 'Docket')
  return performance.now() - began
}

/** The worst cumulative layout shift of the views (Layout Instability, W3C draft), loaded afresh. */
async function measureShift(context: BrowserContext): Promise<number> {
  let worst = 0
  for (const view of VIEWS) {
    const page = await freshPage(context)
    await page.addInitScript(() => {
      const all = { shift: 0 }
      Object.assign(window, { shifts: all })
      new PerformanceObserver((list) => {
        for (const entry of list.getEntries() as (PerformanceEntry & { value: number; hadRecentInput: boolean })[])
          if (!entry.hadRecentInput) all.shift += entry.value
      }).observe({ type: 'layout-shift', buffered: true })
    })
    await page.goto(system.adminAddress + view)
    await page.getByRole('heading').first().waitFor()
    await page.waitForLoadState('networkidle')
    const shift = await page.evaluate(() => (window as unknown as { shifts: { shift: number } }).shifts.shift)
    print(`layout shift of ${view}: ${shift.toFixed(4)}`)
    worst = Math.max(worst, shift)
    await page.close()
  }
  return worst
}

/** The slowest of the sections to change to, once each was seen, in milliseconds; the median of its tries. */
async function measureSections(context: BrowserContext): Promise<number> {
  const page = await freshPage(context)
  await page.goto(`${system.adminAddress}/docket`)
  await isReady(page, 'Docket')
  const times = new Map<string, number[]>()
  for (let time = 0; time < TIMES + 1; time++)
    for (const [link, heading] of SECTIONS) {
      const began = performance.now()
      await page.getByRole('navigation', { name: 'Sections' }).getByRole('link', { name: link }).first().click()
      await isReady(page, heading)
      // Each is loaded the first time.
      if (time > 0) times.set(link, [...(times.get(link) ?? []), performance.now() - began])
      await page.waitForLoadState('networkidle')
    }
  for (const [link, taken] of times) print(`${link}: ${median(taken).toFixed(0)} ms`)
  return Math.max(...[...times.values()].map(median))
}
