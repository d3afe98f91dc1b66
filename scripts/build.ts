import { spawnSync } from 'node:child_process'
import { createHash } from 'node:crypto'
import { existsSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'

const SOURCES = [
  'app',
  'core',
  'environment',
  'gateway',
  'public',
  'server',
  'shipper',
  'standins',
  'worker',
  'nuxt.config.ts',
  'package-lock.json',
  'scripts/build-processes.mjs',
]
const STAMP = '.output/.fides-built'

function* files(path: string): Generator<string> {
  if (!existsSync(path)) return
  if (!statSync(path).isDirectory()) return yield path
  for (const name of readdirSync(path).sort()) yield* files(join(path, name))
}

/** Builds admin and processes when a source changed since the last build. Throws with one line when that fails. */
export function buildIfChanged(print: (line: string) => void): void {
  const hash = createHash('sha256')
  for (const source of SOURCES) for (const file of files(source)) hash.update(file).update(readFileSync(file))
  const now = hash.digest('hex')
  if (existsSync(STAMP) && existsSync('dist/gateway.mjs') && readFileSync(STAMP, 'utf8') === now) return
  print('building (about a minute)')
  const run = spawnSync('npm', ['run', 'build', '--silent'], {
    encoding: 'utf8',
    env: { ...process.env, NODE_ENV: 'production' },
  })
  if (run.status !== 0) {
    process.stderr.write(run.stdout + run.stderr)
    throw new Error('The build failed; its messages stand above.')
  }
  writeFileSync(STAMP, now)
}
