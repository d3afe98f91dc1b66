import { operations } from '../../contract/operations'
import { gatewayControl } from '../../http/context'
import { healthFor, readHealth } from '../../http/health'
import { route } from '../../http/route'
import { roleLately } from '../../http/session'

export default route(operations.readHealth, async ({ db, event }) => {
  const [health, role] = await Promise.all([readHealth(db, gatewayControl()), roleLately(db, event)])
  return healthFor(health, role)
})
