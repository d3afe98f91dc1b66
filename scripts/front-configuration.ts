// npm run front: writes the front's configuration for a unit of its own (deploy/systemd/fides-front.service).
import { join, resolve } from 'node:path'
import { readFrontSettings, writeFrontConfiguration } from './front'
import { readSystemSettings } from './settings'

const settings = readSystemSettings('production')
const file = writeFrontConfiguration(readFrontSettings(), {
  folder: resolve(join(settings.folder, 'front')),
  gatewayPort: settings.FIDES_GATEWAY_PORT,
  controlPort: settings.FIDES_GATEWAY_CONTROL_PORT,
  adminPort: settings.FIDES_ADMIN_PORT,
})
process.stdout.write(`${file}\n`)
