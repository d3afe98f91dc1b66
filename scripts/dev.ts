// npm run dev: the demo world, with the desk rebuilt as its sources change.
import { writeDemo } from '../server/database/seed/write-demo'
import { makePrint } from './print'
import { readSystemSettings } from './settings'
import { runCommand } from './run-command'
import { System } from './system'

const print = makePrint('readable')
const system = new System(readSystemSettings('dev'), print)

await runCommand(system, async () => {
  await system.checkPorts()
  await writeDemo(await system.startDatabase())
  system.start('gateway', ['--import', 'tsx', '--watch-path=gateway', '--watch-path=core', 'gateway/main.ts'])
  system.start('worker', ['--import', 'tsx', 'worker/main.ts'])
  system.start(
    'admin',
    [
      'node_modules/nuxt/bin/nuxt.mjs',
      'dev',
      '--port',
      String(system.settings.FIDES_ADMIN_PORT),
      '--host',
      system.settings.FIDES_ADMIN_HOST,
    ],
    { NODE_ENV: 'development' },
  )
})
