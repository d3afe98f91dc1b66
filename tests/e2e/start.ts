import { buildIfChanged } from '../../scripts/build'
import { writeDemo } from '../../server/database/seed/write-demo'
import { TestFides } from '../system/fides'

/** One Fides with the demo world for all end-to-end tests; the end stops it. */
export default async function start() {
  buildIfChanged((line) => process.stdout.write(line + '\n'))
  const fides = await TestFides.start({ fill: async (db) => void (await writeDemo(db)) })
  process.env.FIDES_E2E_ADMIN = fides.system.adminAddress
  process.env.FIDES_E2E_GATEWAY_PORT = String(fides.system.settings.FIDES_GATEWAY_PORT)
  return () => fides.stop()
}
