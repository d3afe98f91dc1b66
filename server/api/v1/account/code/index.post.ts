import { operations } from '../../../../contract/operations'
import { useNames } from '../../../../http/context'
import { route } from '../../../../http/route'
import { factorAdded } from '../../../../usecases/people/doors'
import { adoptCode } from '../../../../usecases/people/time-codes'

export default route(operations.addCode, async ({ db, member, caller, body }) => {
  await adoptCode(useNames().sealingKey, member, body.code)
  return { recoveryCodes: await factorAdded(db, member, caller) }
})
