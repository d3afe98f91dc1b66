import { operations } from '../../../../contract/operations'
import { route } from '../../../../http/route'
import { removeFactor } from '../../../../usecases/people/doors'

export default route(operations.removeCode, ({ db, member, caller }) => removeFactor(db, member, caller, 'code'))
