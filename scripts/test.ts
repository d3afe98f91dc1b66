// npm test: lint, types, unit, reference, component, use case, system and end-to-end tests; the last lines tell what
// took longest and count them all.
import { spawn } from 'node:child_process'
import { constants, getPriority, setPriority } from 'node:os'
import { relative } from 'node:path'
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs'
import { buildIfChanged } from './build'

interface Outcome {
  passed: number
  failed: number
}

const print = (line: string) => process.stdout.write(line + '\n')
/** What each step and file took, in seconds. */
const took: [what: string, seconds: number][] = []
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
  testResults: { name: string; startTime: number; endTime: number }[]
}

/** A step that passes or fails as a whole; it gives way to the tests. */
async function whole(name: string, command: string, args: string[]): Promise<Outcome> {
  print(`\n— ${name}`)
  const began = Date.now()
  const code = await run(command, args, constants.priority.PRIORITY_LOW)
  took.push([name, (Date.now() - began) / 1000])
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
  return outcome
}

mkdirSync(RESULTS, { recursive: true })
const outcomes: Outcome[] = []
try {
  buildIfChanged(print)
  // Tests wait for each other most of their time: what needs nothing but a processor runs beside them, after them.
  const beside = (async () => [
    await whole('lint', 'npm', ['run', '--silent', 'lint']),
    await whole('types', 'npx', ['nuxt', 'typecheck']),
  ])()
  outcomes.push(
    await counted(
      'unit, reference, component, use case and system tests',
      ['vitest', 'run', '--reporter=default', '--reporter=json', `--outputFile.json=${RESULTS}/vitest.json`],
      `${RESULTS}/vitest.json`,
      (report: VitestReport) => {
        for (const { name, startTime, endTime } of report.testResults)
          took.push([relative(process.cwd(), name), (endTime - startTime) / 1000])
        return {
          passed: report.numPassedTests,
          failed: report.numFailedTests || (report.numFailedTestSuites > 0 ? 1 : 0),
        }
      },
    ),
  )
  outcomes.push(
    await counted(
      'end-to-end tests',
      ['playwright', 'test'],
      `${RESULTS}/e2e.json`,
      (report: { stats: { expected: number; unexpected: number; flaky: number } }) => ({
        passed: report.stats.expected,
        failed: report.stats.unexpected + report.stats.flaky,
      }),
    ),
  )
  outcomes.push(...(await beside))
} catch (error) {
  process.stderr.write(`${(error as Error).message}\n`)
  outcomes.push({ passed: 0, failed: 1 })
}
const passed = outcomes.reduce((sum, outcome) => sum + outcome.passed, 0)
const failed = outcomes.reduce((sum, outcome) => sum + outcome.failed, 0)
print('\nTook longest:')
for (const [what, seconds] of took.sort((a, b) => b[1] - a[1]).slice(0, 12))
  print(`  ${seconds.toFixed(0).padStart(4)} s  ${what}`)
print(`\n${passed} passed, ${failed} failed`)
process.exit(failed === 0 ? 0 : 1)
