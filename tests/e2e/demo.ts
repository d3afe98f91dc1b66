import { spawn } from 'node:child_process'
import { once } from 'node:events'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'

const READY = 'Fides is ready'
const PATIENCE_MS = 300_000

/** The demo itself, with all its stand-ins and past visits, in a folder of its own; the end stops it. */
export async function startDemo(): Promise<() => Promise<void>> {
  const folder = mkdtempSync(join(tmpdir(), 'fides-jobs-'))
  const demo = spawn(process.execPath, ['scripts/bootstrap.mjs', 'demo'], {
    env: { ...process.env, FIDES_DATA: folder },
    stdio: ['ignore', 'pipe', 'inherit'],
  })
  const stop = async () => {
    if (demo.exitCode === null) {
      // It stops what it started, by process id.
      demo.kill('SIGTERM')
      await once(demo, 'exit')
    }
    rmSync(folder, { recursive: true, force: true })
  }
  try {
    await new Promise<void>((resolve, reject) => {
      let said = ''
      const late = setTimeout(() => reject(new Error(`the demo is not ready: ${said}`)), PATIENCE_MS)
      demo.once('exit', (code) => reject(new Error(`the demo ended with ${code}: ${said}`)))
      demo.stdout.setEncoding('utf8').on('data', (text: string) => {
        said = (said + text).slice(-10_000)
        if (!said.includes(READY)) return
        clearTimeout(late)
        resolve()
      })
    })
  } catch (error) {
    await stop()
    throw error
  }
  process.env.FIDES_E2E_ADMIN = 'http://127.0.0.1:3000'
  process.env.FIDES_E2E_GATEWAY_PORT = '8080'
  return stop
}
