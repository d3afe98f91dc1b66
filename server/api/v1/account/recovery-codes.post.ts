import { operations } from '../../../contract/operations'
import { route } from '../../../http/route'
import { renewRecoveryCodes } from '../../../usecases/people/doors'

export default route(operations.makeRecoveryCodes, async ({ db, member }) => ({
  recoveryCodes: await renewRecoveryCodes(db, member),
}))
