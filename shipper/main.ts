import { constants, getPriority, setPriority } from 'node:os'
import { connectionConfig } from '../environment/database-url'
import { makeLog } from '../environment/log'
import { readEnvironment } from '../environment/read'
import { shipperVariables } from '../environment/variables'
import { Segments } from './segments'
import { ship } from './ship'

// Visitors and people at the desk come first; segments wait as files. One that runs lower is left there.
const { PRIORITY_LOW } = constants.priority
if (getPriority() < PRIORITY_LOW) setPriority(PRIORITY_LOW)

const environment = readEnvironment(shipperVariables)
const log = makeLog('shipper')
const shipper = ship(
  new Segments(environment.FIDES_GATEWAY_STATE),
  connectionConfig(environment.FIDES_SHIPPER_DATABASE_URL ?? environment.FIDES_DATABASE_URL),
  (line) => log.info(line),
)
log.info('ready')

for (const signal of ['SIGTERM', 'SIGINT'] as const) {
  process.once(signal, () => void shipper.stop().then(() => process.exit(0)))
}
