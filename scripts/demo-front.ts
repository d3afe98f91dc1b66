// The demo's front: the same as in production, with a certificate authority of this machine's own.
import { readFileSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { FRONT_PORTS, type DemoFront } from './demo-names'
import { authorityFile } from './demo-sites'
import { hasCaddy } from './front'
import { hasPebble, startPebble, type Pebble } from './pebble'
import { frontEnvironment, frontFolder, startFront } from './start-front'
import type { System } from './system'

/** Whether this machine has what the front and its authority need; says so where not. */
export function canFront(print: (line: string) => void): boolean {
  const missing = [...(hasCaddy() ? [] : ['caddy']), ...(hasPebble() ? [] : ['pebble'])]
  if (missing.length === 0) return true
  print(`the demo speaks no TLS: ${missing.join(' and ')} ${missing.length === 1 ? 'is' : 'are'} not on this machine`)
  return false
}

/** Starts the authority; what desk and worker are told of it comes back, for the front to be started after them. */
export async function startAuthority(system: System): Promise<{ pebble: Pebble; front: DemoFront }> {
  // It is another authority at each start: what an earlier one gave, nobody trusts any more.
  rmSync(join(frontFolder(system), 'store'), { recursive: true, force: true })
  const pebble = await startPebble({
    folder: join(system.settings.folder, 'pebble'),
    port: FRONT_PORTS.authority,
    managementPort: FRONT_PORTS.management,
    httpPort: FRONT_PORTS.http,
    httpsPort: FRONT_PORTS.https,
  })
  const trusted = join(system.settings.folder, 'trusted.pem')
  // One file holds whom browsers of the demo's world trust: the sites' authority, and the front's.
  writeFileSync(trusted, readFileSync(authorityFile(system), 'utf8') + '\n' + (await pebble.issuer()))
  return { pebble, front: { trusted, environment: frontEnvironment(system) } }
}

export const startDemoFront = (system: System, pebble: Pebble): Promise<void> =>
  startFront(system, {
    FIDES_FRONT: 'on',
    FIDES_FRONT_HTTP_PORT: FRONT_PORTS.http,
    FIDES_FRONT_HTTPS_PORT: FRONT_PORTS.https,
    FIDES_ACME_DIRECTORY: pebble.directory,
    FIDES_ACME_ROOT: pebble.rootFile,
  })
