import { join, resolve } from 'node:path'
import { writeFrontConfiguration, type FrontSettings } from './front'
import { portListens } from './ports'
import type { System } from './system'

const PATIENCE_MS = 20_000

/** Where the front of a system keeps its certificates and its log. */
export const frontFolder = (system: System): string => resolve(join(system.settings.folder, 'front'))

/** What the other processes are told where the front is ours. */
export const frontEnvironment = (system: System): Record<string, string> => ({
  FIDES_FRONT_STATE: frontFolder(system),
  FIDES_TRUSTED_PROXIES: process.env.FIDES_TRUSTED_PROXIES ?? '127.0.0.1',
})

/** Starts Caddy with our configuration and waits until it listens. */
export async function startFront(system: System, settings: FrontSettings): Promise<void> {
  const folder = frontFolder(system)
  const file = writeFrontConfiguration(settings, {
    folder,
    gatewayPort: system.settings.FIDES_GATEWAY_PORT,
    controlPort: system.settings.FIDES_GATEWAY_CONTROL_PORT,
    adminPort: system.settings.FIDES_ADMIN_PORT,
  })
  system.start('front', ['run', '--config', file, '--adapter', 'caddyfile'], { HOME: folder }, 'caddy')
  const give = Date.now() + PATIENCE_MS
  while (!(await portListens(settings.FIDES_FRONT_HTTPS_PORT))) {
    if (Date.now() > give) throw new Error(`the front does not listen on port ${settings.FIDES_FRONT_HTTPS_PORT}`)
    await new Promise((done) => setTimeout(done, 100))
  }
}
