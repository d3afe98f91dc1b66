import { operations } from '../../../../contract/operations'
import { gatewayControl } from '../../../../http/context'
import { route } from '../../../../http/route'
import { untilServed } from '../../../../http/until-served'
import { makeChange } from '../../../../usecases/changes/proposals'

export default route(operations.makeChange, async ({ db, actor, id, version }) => {
  const changed = await makeChange(db, actor, id, version)
  await untilServed(db, gatewayControl(), changed.state === 'applied' ? changed.entry : null)
  return changed
})
