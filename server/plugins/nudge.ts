import { gatewayControl, useSettings } from '../http/context'
import { onChange } from '../usecases/ledger/change'

/** Tells the gateway of each change at once; one that misses it asks the ledger itself soon after. */
export default defineNitroPlugin(() => {
  useSettings()
  onChange(() => {
    fetch(`${gatewayControl()}/nudge`, { method: 'POST', signal: AbortSignal.timeout(1000) }).catch(() => undefined)
  })
})
