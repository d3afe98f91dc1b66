import { operations } from '../../../../contract/operations'
import { route } from '../../../../http/route'
import { factorAdded } from '../../../../usecases/people/doors'
import { adoptPasskey } from '../../../../usecases/people/passkeys'

export default route(operations.addPasskey, async ({ db, member, session, caller, body }) => {
  await adoptPasskey(db, member, session, caller, body)
  return { recoveryCodes: await factorAdded(db, member, caller) }
})
