// npm start: production. No demo data, no stand-ins; the first administrator comes by a one-time address.
import { rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { makeSetupTicket } from '../server/usecases/people/setup'
import { buildIfChanged } from './build'
import { readFrontSettings } from './front'
import { makePrint } from './print'
import { readSystemSettings } from './settings'
import { frontEnvironment, startFront } from './start-front'
import { runCommand } from './run-command'
import { System } from './system'

const print = makePrint(process.stdout.isTTY ? 'readable' : 'json')
const system = new System(readSystemSettings('production'), print)

const front = readFrontSettings()
const more = front.FIDES_FRONT === 'on' ? frontEnvironment(system) : {}

await runCommand(system, async () => {
  system.checkVariables(more)
  await system.checkPorts(
    front.FIDES_FRONT === 'on'
      ? [
          { port: front.FIDES_FRONT_HTTP_PORT, use: 'the front (http)', variable: 'FIDES_FRONT_HTTP_PORT' },
          { port: front.FIDES_FRONT_HTTPS_PORT, use: 'the front (https)', variable: 'FIDES_FRONT_HTTPS_PORT' },
        ]
      : [],
  )
  await system.serveUntilThereIsSpace(Number(process.env.FIDES_MEGABYTES_NEEDED ?? 0), more)
  buildIfChanged(print)
  const db = await system.startDatabaseOrWait(more)
  await db.sequelize.query(
    "INSERT IGNORE INTO organisation (id, name, time_zone, created_at) VALUES (1, '', 'UTC', UTC_TIMESTAMP(3))",
  )
  await system.startApplication(more)
  if (front.FIDES_FRONT === 'on') await startFront(system, front)
  takeOverOnHangup()
  print(`Fides is ready: the desk at ${system.adminAddress}, the gateway at ${system.gatewayAddress}.`)
  const ticket = await makeSetupTicket(db)
  if (ticket) print(`Make the first administrator here, once: ${system.adminAddress}/set-up?ticket=${ticket}`)
})

/** What npm run upgrade asks for: fresh processes from the files that are there now, the gateway’s without a gap. */
function takeOverOnHangup(): void {
  const file = join(system.settings.folder, 'start.pid')
  writeFileSync(file, String(process.pid), { mode: 0o600 })
  process.on('exit', () => rmSync(file, { force: true }))
  let working: Promise<void> = Promise.resolve()
  process.on('SIGHUP', () => {
    print('upgrade: fresh processes take over')
    system.processes.find(({ name }) => name === 'gateway')?.child.kill('SIGHUP')
    working = working.then(async () => {
      for (const name of ['shipper', 'worker', 'admin']) await system.restart(name)
    })
  })
}
