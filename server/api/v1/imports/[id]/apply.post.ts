import { operations } from '../../../../contract/operations'
import { gatewayControl } from '../../../../http/context'
import { route } from '../../../../http/route'
import { untilServed } from '../../../../http/until-served'
import { applyIntake } from '../../../../usecases/exchange/apply-intake'

export default route(operations.applyIntake, async ({ db, actor, id, version }) => {
  const applied = await applyIntake(db, actor, id, version)
  await untilServed(db, gatewayControl(), applied.entry)
  return applied
})
