// npm start: production. No demo data, no stand-ins; the first administrator comes by a one-time address.
import { makeSetupTicket } from '../server/usecases/people/setup'
import { buildIfChanged } from './build'
import { makePrint } from './print'
import { readSystemSettings } from './settings'
import { runCommand, System } from './system'

const print = makePrint(process.stdout.isTTY ? 'readable' : 'json')
const system = new System(readSystemSettings('production'), print)

const more = { NUXT_SESSION_COOKIE_SECURE: process.env.NUXT_SESSION_COOKIE_SECURE ?? 'true' }

await runCommand(system, async () => {
  system.checkVariables(more)
  await system.checkPorts()
  buildIfChanged(print)
  const db = await system.startDatabaseOrWait(more)
  await db.sequelize.query(
    "INSERT IGNORE INTO organisation (id, name, time_zone, created_at) VALUES (1, '', 'UTC', UTC_TIMESTAMP(3))",
  )
  await system.startApplication(more)
  print(`Fides is ready: the desk at ${system.adminAddress}, the gateway at ${system.gatewayAddress}.`)
  const ticket = await makeSetupTicket(db)
  if (ticket) print(`Make the first administrator here, once: ${system.adminAddress}/set-up?ticket=${ticket}`)
})
