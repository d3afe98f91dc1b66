import { join } from 'node:path'
import { z } from 'zod'
import { readEnvironment } from '../environment/read'
import { address, port } from '../environment/variables'
import { freePort } from './ports'

const variables = z.object({
  FIDES_DATA: z.string().default('.data'),
  FIDES_ADMIN_HOST: address('127.0.0.1'),
  FIDES_ADMIN_PORT: port(3000),
  FIDES_GATEWAY_HOST: address('127.0.0.1'),
  FIDES_GATEWAY_PORT: port(8080),
  FIDES_GATEWAY_CONTROL_PORT: port(8081),
  FIDES_DATABASE_PORT: port(3308),
  FIDES_DATABASE_URL: z.string().optional(),
})

/** The ports, folders and database of one running Fides. */
export type SystemSettings = z.infer<typeof variables> & { folder: string }

/** Reads the start command's environment; `name` keeps the data of demo, production and tests apart. */
export function readSystemSettings(name: string): SystemSettings {
  const settings = readEnvironment(variables)
  return { ...settings, folder: join(settings.FIDES_DATA, name) }
}

/** Settings of a Fides of one's own on free loopback ports, for tests and benches. */
export async function freeSettings(folder: string, host = '127.0.0.1'): Promise<SystemSettings> {
  const [admin, gateway, control, database] = await Promise.all([freePort(), freePort(), freePort(), freePort()])
  return {
    folder,
    FIDES_DATA: folder,
    FIDES_ADMIN_HOST: host,
    FIDES_ADMIN_PORT: admin,
    FIDES_GATEWAY_HOST: host,
    FIDES_GATEWAY_PORT: gateway,
    FIDES_GATEWAY_CONTROL_PORT: control,
    FIDES_DATABASE_PORT: database,
  }
}
