import type { requirePorts } from './ports'
import type { SystemSettings } from './settings'

/** The ports that the processes of one installation listen on, for telling which is in use. */
export const portsOf = (settings: SystemSettings): Parameters<typeof requirePorts>[0] => [
  {
    port: settings.FIDES_ADMIN_PORT,
    host: settings.FIDES_ADMIN_HOST,
    use: 'the desk',
    variable: 'FIDES_ADMIN_PORT',
  },
  {
    port: settings.FIDES_GATEWAY_PORT,
    host: settings.FIDES_GATEWAY_HOST,
    use: 'the gateway',
    variable: 'FIDES_GATEWAY_PORT',
  },
  {
    port: settings.FIDES_GATEWAY_CONTROL_PORT,
    use: 'the gateway’s control',
    variable: 'FIDES_GATEWAY_CONTROL_PORT',
  },
  ...(settings.FIDES_DATABASE_URL
    ? []
    : [{ port: settings.FIDES_DATABASE_PORT, use: 'MariaDB', variable: 'FIDES_DATABASE_PORT' }]),
]
