// npm test: lint, types, unit, reference, component, use case, system and end-to-end tests; the last lines tell what
// took longest and count them all.
import { spawn } from 'node:child_process'
import { constants, getPriority, setPriority } from 'node:os'
import { relative } from 'node:path'
import { stripVTControlCharacters } from 'node:util'
import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import prepareDatabase from '../tests/prepared-database'
import { buildIfChanged } from './build'

interface Outcome {
  passed: number
  failed: number
}

const print = (line: string) => process.stdout.write(line + '\n')
/** What each step and file took, in seconds. */
const took: [what: string, seconds: number][] = []
/** What failed, by name: the last lines of a long run must say it. */
const fell: string[] = []
const RESULTS = 'test-results'

function run(command: string, args: string[], priority: number = constants.priority.PRIORITY_NORMAL): Promise<number> {
  return new Promise((resolve) => {
    const child = spawn(command, args, {
      stdio: ['ignore', 'inherit', 'inherit'],
      env: { ...process.env, FORCE_COLOR: '0' },
    })
    if (child.pid !== undefined && priority > getPriority()) setPriority(child.pid, priority)
    child.on('error', () => resolve(127))
    child.on('exit', (code) => resolve(code ?? 1))
  })
}

interface VitestReport {
  numPassedTests: number
  numFailedTests: number
  numFailedTestSuites: number
  testResults: {
    name: string
    status: string
    message: string
    startTime: number
    endTime: number
    assertionResults: { status: string; fullName: string; failureMessages: string[] }[]
  }[]
}

/** A step that passes or fails as a whole; it gives way to the tests. */
async function whole(name: string, command: string, args: string[]): Promise<Outcome> {
  print(`\n— ${name}`)
  const began = Date.now()
  const code = await run(command, args, constants.priority.PRIORITY_LOW)
  took.push([name, (Date.now() - began) / 1000])
  if (code !== 0) fell.push(name)
  print(code === 0 ? `${name}: sound` : `${name}: failed (exit ${code})`)
  return code === 0 ? { passed: 1, failed: 0 } : { passed: 0, failed: 1 }
}

/** A runner that writes what it counted; one that ends badly without a count is a failure in itself. */
async function counted(
  name: string,
  args: string[],
  file: string,
  count: (report: never) => Outcome,
): Promise<Outcome> {
  print(`\n— ${name}`)
  rmSync(file, { force: true })
  const began = Date.now()
  const code = await run('npx', args)
  took.push([name, (Date.now() - began) / 1000])
  const outcome = existsSync(file) ? count(JSON.parse(readFileSync(file, 'utf8')) as never) : { passed: 0, failed: 0 }
  const isStray = code !== 0 && outcome.failed === 0
  if (isStray) outcome.failed = 1
  if (outcome.failed > 0) fell.push(`${name}: ${isStray ? `an error outside of tests, exit ${code}` : outcome.failed}`)
  return outcome
}

/** A failed test with what it saw. */
const told = (test: string, saw = '') => `${test}: ${stripVTControlCharacters(saw).slice(0, 900)}`

/** Does one after the other. */
async function inTurn(...steps: (() => Promise<Outcome>)[]): Promise<Outcome[]> {
  const done: Outcome[] = []
  for (const step of steps) done.push(await step())
  return done
}

/** What files and whole steps took in the last run here, or as committed, in seconds. */
const TIMES = ['.data/test-times.json', 'tests/times.json'].find((file) => existsSync(file))
const lastTook: Record<string, number> = TIMES ? JSON.parse(readFileSync(TIMES, 'utf8')) : {}
/** Seconds taken for granted of a file that is new. */
const UNKNOWN_SECONDS = 20
const E2E = 'end-to-end tests'
const COMPONENTS = 'component tests'
const ALONE = 'unit, reference and use case tests'

/**
 * The files of system tests in two rows that take about as long as each other with what else is in them: the longest
 * file first, each to the row that has less to do.
 */
function balanced(): [string[], string[]] {
  const rows: [string[], string[]] = [[], []]
  const load = [(lastTook[E2E] ?? 300) + (lastTook[COMPONENTS] ?? 30), lastTook[ALONE] ?? 300]
  const secondsOf = (file: string) => lastTook[file] ?? UNKNOWN_SECONDS
  const files = readdirSync('tests/system', { recursive: true, encoding: 'utf8' })
    .filter((name) => name.endsWith('.test.ts'))
    .map((name) => `tests/system/${name}`)
  for (const file of files.sort((a, b) => secondsOf(b) - secondsOf(a))) {
    const row = load[0]! <= load[1]! ? 0 : 1
    rows[row].push(file)
    load[row]! += secondsOf(file)
  }
  return rows
}

/** Tests of some of Vitest’s projects, or of the files named. */
function vitest(name: string, which: string[]): Promise<Outcome> {
  const file = `${RESULTS}/${name.replace(/[^a-z]+/g, '-')}.json`
  return counted(
    name,
    ['vitest', 'run', ...which, '--reporter=default', '--reporter=json', `--outputFile.json=${file}`],
    file,
    (report: VitestReport) => {
      for (const { name: test, startTime, endTime, status, message, assertionResults } of report.testResults) {
        const path = relative(process.cwd(), test)
        took.push([path, (endTime - startTime) / 1000])
        // A file that could not be loaded or set up.
        if (status === 'failed' && message) fell.push(told(path, message))
        for (const { status, fullName, failureMessages } of assertionResults)
          if (status === 'failed') fell.push(told(`${path}: ${fullName}`, failureMessages[0]))
      }
      return {
        passed: report.numPassedTests,
        failed: report.numFailedTests || (report.numFailedTestSuites > 0 ? 1 : 0),
      }
    },
  )
}

interface ChromiumSuite {
  suites?: ChromiumSuite[]
  specs?: { title: string; file: string; tests: { results: { status: string; error?: { message?: string } }[] }[] }[]
}
interface ChromiumReport {
  stats: { expected: number; unexpected: number; flaky: number }
  suites: ChromiumSuite[]
}

/** Says of tests in Chromium that failed what they saw. */
function tellFallen({ suites = [], specs = [] }: ChromiumSuite): void {
  for (const suite of suites) tellFallen(suite)
  for (const { title, file, tests } of specs)
    for (const { status, error } of tests.flatMap(({ results }) => results))
      if (status !== 'passed' && status !== 'skipped') fell.push(told(`${file}: ${title}`, error?.message ?? status))
}

const playwright = () =>
  counted(E2E, ['playwright', 'test'], `${RESULTS}/e2e.json`, (report: ChromiumReport) => {
    for (const suite of report.suites) tellFallen(suite)
    const { expected, unexpected, flaky } = report.stats
    return { passed: expected, failed: unexpected + flaky }
  })

mkdirSync(RESULTS, { recursive: true })
const began = Date.now()
const outcomes: Outcome[] = []
try {
  buildIfChanged(print)
  await prepareDatabase()
  // Tests wait for each other most of their time: what needs nothing but a processor runs beside them, after them.
  const beside = (async () => [
    await whole('lint', 'npm', ['run', '--silent', 'lint']),
    await whole('types', 'npx', ['nuxt', 'typecheck']),
  ])()
  // Two rows of tests side by side, about as long as each other: most of their time they wait, and there are two cores.
  const [one, other] = balanced()
  const rows = await Promise.all([
    inTurn(
      () => vitest('system tests, first row', ['--project=system', ...one]),
      () => playwright(),
      () => vitest(COMPONENTS, ['--project=component']),
    ),
    inTurn(
      () =>
        vitest(
          ALONE,
          ['unit', 'reference', 'usecases'].map((name) => `--project=${name}`),
        ),
      () => vitest('system tests, second row', ['--project=system', ...other]),
    ),
  ])
  outcomes.push(...rows.flat())
  outcomes.push(...(await beside))
} catch (error) {
  process.stderr.write(`${(error as Error).message}\n`)
  outcomes.push({ passed: 0, failed: 1 })
}
const passed = outcomes.reduce((sum, outcome) => sum + outcome.passed, 0)
const failed = outcomes.reduce((sum, outcome) => sum + outcome.failed, 0)
if (fell.length > 0) print(`\nFailed:\n${fell.map((what) => `  ${what}`).join('\n')}`)
writeFileSync('.data/test-times.json', JSON.stringify(Object.fromEntries(took), null, 2) + '\n')
print('\nSteps:')
for (const [what, seconds] of took.filter(([what]) => !what.endsWith('.ts')).sort((a, b) => b[1] - a[1]))
  print(`  ${seconds.toFixed(0).padStart(4)} s  ${what}`)
print('\nThe ten slowest files:')
const files = took.filter(([what]) => what.endsWith('.ts'))
for (const [what, seconds] of files.sort((a, b) => b[1] - a[1]).slice(0, 10))
  print(`  ${seconds.toFixed(0).padStart(4)} s  ${what}`)
print(`  ${((Date.now() - began) / 1000).toFixed(0).padStart(4)} s  all of it`)
print(`\n${passed} passed, ${failed} failed`)
process.exit(failed === 0 ? 0 : 1)
