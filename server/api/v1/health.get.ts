import { operations } from '../../contract/operations'
import { gatewayControl, useSettings } from '../../http/context'
import { route } from '../../http/route'
import { readHealth } from '../../http/health'

export default route(operations.readHealth, ({ db }) =>
  readHealth(db, gatewayControl(), useSettings().NUXT_SESSION_PASSWORD.length >= 32),
)
