import { spawnSync } from 'node:child_process'
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { z } from 'zod'
import { readEnvironment } from '../environment/read'
import { hostName, port } from '../environment/variables'

/** What the front is told by the environment. */
export const frontVariables = z.object({
  FIDES_FRONT: z.enum(['on', 'off'], 'must be “on” or “off”').default('off'),
  FIDES_FRONT_HTTP_PORT: port(80),
  FIDES_FRONT_HTTPS_PORT: port(443),
  /** The desk's own name, where the front is to serve it, too. */
  FIDES_DESK_NAME: hostName.optional(),
  /** The authority's directory (RFC 8555 §7.1.1) where it is not Caddy's usual one, and the root it is trusted by. */
  FIDES_ACME_DIRECTORY: z.url('must be an address like https://ca.example.org/directory').optional(),
  FIDES_ACME_ROOT: z.string().min(1).optional(),
  /** Whom the authority may write to. */
  FIDES_ACME_EMAIL: z.email('must be an e-mail address').optional(),
})
export type FrontSettings = z.infer<typeof frontVariables>

export const readFrontSettings = (): FrontSettings => readEnvironment(frontVariables)

/** Where the front stands beside the other processes. */
export interface FrontPlace {
  /** The folder of its certificates and its log. */
  folder: string
  gatewayPort: number
  controlPort: number
  adminPort: number
}

/** Whether Caddy is on this machine. */
export const hasCaddy = (): boolean => spawnSync('caddy', ['version'], { stdio: 'ignore' }).status === 0

const DESK_END = '\t\theader_up -Forwarded\n\t}\n}'
const TEMPLATE = join(import.meta.dirname, '..', 'deploy', 'front', 'Caddyfile')

/** The front's configuration: deploy/front/Caddyfile with its marks filled in. */
export function frontConfiguration(settings: FrontSettings, place: FrontPlace): string {
  const values: Record<string, string> = {
    FOLDER: place.folder,
    HTTP_PORT: String(settings.FIDES_FRONT_HTTP_PORT),
    HTTPS_PORT: String(settings.FIDES_FRONT_HTTPS_PORT),
    GATEWAY: `127.0.0.1:${place.gatewayPort}`,
    CONTROL: `127.0.0.1:${place.controlPort}`,
    AUTHORITY: [
      settings.FIDES_ACME_DIRECTORY && `acme_ca ${settings.FIDES_ACME_DIRECTORY}`,
      settings.FIDES_ACME_ROOT && `acme_ca_root ${settings.FIDES_ACME_ROOT}`,
      settings.FIDES_ACME_EMAIL && `email ${settings.FIDES_ACME_EMAIL}`,
    ]
      .filter(Boolean)
      .join('\n\t'),
    DESK: settings.FIDES_DESK_NAME
      ? [`${settings.FIDES_DESK_NAME} {`, `\treverse_proxy 127.0.0.1:${place.adminPort} {`, DESK_END].join('\n')
      : '',
  }
  const text = readFileSync(TEMPLATE, 'utf8').replace(/%([A-Z_]+)%/g, (_mark, name: string) => values[name] ?? '')
  // What is not told leaves an empty line.
  return text.replace(/\n\t*\n(?=\n|\t)/g, '\n').trimEnd() + '\n'
}

/** Writes the configuration into the front's folder; gives the file. */
export function writeFrontConfiguration(settings: FrontSettings, place: FrontPlace): string {
  mkdirSync(place.folder, { recursive: true, mode: 0o700 })
  const file = join(place.folder, 'Caddyfile')
  writeFileSync(file, frontConfiguration(settings, place), { mode: 0o600 })
  return file
}
