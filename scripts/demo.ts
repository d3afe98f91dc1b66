// npm run demo: everything on loopback, with the demo world and the stand-ins.
import { mkdirSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { QueryTypes } from 'sequelize'
import { writeDemo, DEMO_PASSWORD } from '../server/database/seed/write-demo'
import { portAnselLinks } from '../server/database/seed/port-ansel'
import { RULED_ADDRESSES } from '../server/database/seed/port-ansel-rules'
import { refreshVisitFigures } from '../server/usecases/traffic/refresh-visit-figures'
import { buildIfChanged } from './build'
import { canFront, startAuthority, startDemoFront } from './demo-front'
import {
  bringDomains,
  checkedBefore,
  FRONT_PORTS,
  layOutZones,
  MAILBOX_ADDRESS,
  OUTSIDE_PORTS,
  outsideEnvironment,
  startOutside,
} from './demo-names'
import { fillPastVisits } from './past-visits'
import { makePrint } from './print'
import { readSystemSettings } from './settings'
import { runCommand } from './run-command'
import { System } from './system'

const PAST_DAYS = 90
const NO_TLS = '  HTTPS          no: it needs caddy and pebble on this machine (apt-get install caddy pebble)\n'

const print = makePrint('readable')
const system = new System(readSystemSettings('demo'), print)

await runCommand(system, async () => {
  const began = performance.now()
  system.checkVariables(outsideEnvironment(system))
  await system.checkPorts(OUTSIDE_PORTS)
  buildIfChanged(print)
  const db = await system.startDatabase()
  const posters = portAnselLinks()
    .filter((link) => link.weight > 0)
    .map(({ host, slug, weight, madeAgo }) => ({ host, slug, weight, madeAgo }))
    .concat(RULED_ADDRESSES.map(([host, slug, weight]) => ({ host, slug, weight, madeAgo: 200 })))
  if (await writeDemo(db)) print('database: Port Ansel Transit is laid out, with 1,200 links')
  // A batch of a day counts once, so an interrupted filling goes on where it stopped.
  const [marks] = await db.sequelize.query<{ days: number }>(
    "SELECT COUNT(*) AS days FROM visit_batch WHERE batch_key LIKE 'past-%'",
    { type: QueryTypes.SELECT },
  )
  if (Number(marks?.days) <= PAST_DAYS) {
    print(`database: filling ${PAST_DAYS} days of past visits`)
    const stored = await fillPastVisits(system.databaseUrl, posters, PAST_DAYS)
    print(`database: ${stored.toLocaleString('en')} past requests`)
    await refreshVisitFigures(db)
  }
  mkdirSync(system.settings.folder, { recursive: true })
  const postersFile = join(system.settings.folder, 'posters.json')
  writeFileSync(postersFile, JSON.stringify(posters))
  await startOutside(system)
  await layOutZones(db)
  await bringDomains(system, db)
  await checkedBefore(system, db)
  const authority = canFront(print) ? await startAuthority(system) : undefined
  await system.startApplication({
    FIDES_TRUSTED_PROXIES: '127.0.0.1',
    ...outsideEnvironment(system, authority?.front),
  })
  if (authority) await startDemoFront(system, authority.pebble)
  system.start('crowd', ['dist/crowd.mjs'], { FIDES_CROWD_POSTERS: postersFile })
  print(`
Fides is ready after ${((performance.now() - began) / 1000).toFixed(1)} s.

  The desk       ${system.adminAddress}
  Sign in        admin@portansel.example, password ${DEMO_PASSWORD}
                 (editor@ and viewer@portansel.example have the same password)
  The gateway    ${system.gatewayAddress}, for example
                 curl -sI -H 'Host: ansl.example' ${system.gatewayAddress}/fares
  The mailbox    ${MAILBOX_ADDRESS}/ (mails of the demo end there)
${authority ? secureWords(join(system.settings.folder, 'trusted.pem')) : NO_TLS}
Ctrl-C stops all of it.`)
})

function secureWords(trusted: string): string {
  const way = `--connect-to ::127.0.0.1:${FRONT_PORTS.https}`
  return `  HTTPS          curl -sI --cacert ${trusted} ${way} https://ansl.example/fares
                 (the demo’s authority takes every name the gateway vouches for)
`
}
