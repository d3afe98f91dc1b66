// npm test: lint, types, unit, reference, component, use case, system and end-to-end tests; the last lines tell what
// took longest and count them all.
import { spawn } from 'node:child_process'
import { constants, getPriority, setPriority } from 'node:os'
import { relative } from 'node:path'
import { stripVTControlCharacters } from 'node:util'
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs'
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
  if (code !== 0 && outcome.failed === 0) outcome.failed = 1
  if (outcome.failed > 0) fell.push(`${name}: ${outcome.failed}`)
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

/** Tests of some of Vitest’s projects. */
function vitest(name: string, which: string[]): Promise<Outcome> {
  const file = `${RESULTS}/${name.replace(/[^a-z]+/g, '-')}.json`
  return counted(
    name,
    ['vitest', 'run', ...which, '--reporter=default', '--reporter=json', `--outputFile.json=${file}`],
    file,
    (report: VitestReport) => {
      for (const { name: test, startTime, endTime, assertionResults } of report.testResults) {
        const path = relative(process.cwd(), test)
        took.push([path, (endTime - startTime) / 1000])
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
  counted('end-to-end tests', ['playwright', 'test'], `${RESULTS}/e2e.json`, (report: ChromiumReport) => {
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
  const rows = await Promise.all([
    inTurn(
      () => vitest('system tests, first half', ['--project=system', '--shard=1/2']),
      () => playwright(),
      () => vitest('component tests', ['--project=component']),
    ),
    inTurn(
      () =>
        vitest(
          'unit, reference and use case tests',
          ['unit', 'reference', 'usecases'].map((name) => `--project=${name}`),
        ),
      () => vitest('system tests, second half', ['--project=system', '--shard=2/2']),
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
print('\nTook longest:')
for (const [what, seconds] of took.sort((a, b) => b[1] - a[1]).slice(0, 12))
  print(`  ${seconds.toFixed(0).padStart(4)} s  ${what}`)
print(`  ${((Date.now() - began) / 1000).toFixed(0).padStart(4)} s  all of it`)
print(`\n${passed} passed, ${failed} failed`)
process.exit(failed === 0 ? 0 : 1)
