import { operations } from '../../../../contract/operations'
import { route } from '../../../../http/route'
import { removeFactor } from '../../../../usecases/people/doors'

export default route(operations.removePasskey, ({ db, member, caller, id }) =>
  removeFactor(db, member, caller, { passkey: id }),
)
