import { existsSync } from 'node:fs'
import { createRequire } from 'node:module'
import { dirname, resolve } from 'node:path'
import { fileURLToPath } from 'node:url'
import { Worker, type WorkerOptions } from 'node:worker_threads'

/** The threads there are: each a file of this folder, and a bundle in dist. */
export type ThreadName = 'replay-thread' | 'traffic-thread' | 'tally-thread'
/** Processes for long work, also each a file of this folder and a bundle in dist. */
export type ProcessName = 'compute-process' | 'import-process' | 'export-process' | 'log-process'

/** Starts a thread: from its bundle, or from the sources in development and in tests. */
export function startThread(name: ThreadName, options: WorkerOptions): Worker {
  const file = programOf(name)
  if (!file.endsWith('.ts')) return new Worker(file, options)
  const load = `require(${JSON.stringify(createRequire(import.meta.url).resolve('tsx/cjs'))})
    require(${JSON.stringify(file)})`
  return new Worker(load, { ...options, eval: true })
}

/** Where a program is: beside the worker's bundle, or two folders from the desk's; benches use bundles too. */
export function programOf(name: ThreadName | ProcessName): string {
  if (import.meta.url.endsWith('/start-thread.ts')) {
    const usesBundles = process.env.FIDES_BUNDLED_THREADS === 'on'
    return fileURLToPath(new URL(usesBundles ? `../../dist/${name}.mjs` : `./${name}.ts`, import.meta.url))
  }
  const program = dirname(process.argv[1] ?? '.')
  const places = [`${name}.mjs`, `../../dist/${name}.mjs`].map((place) => resolve(program, place))
  const found = [...places, resolve(`server/threads/${name}.ts`)].find((place) => existsSync(place))
  if (!found) throw new Error(`dist/${name}.mjs is missing: build again with “npm run build”`)
  return found
}
