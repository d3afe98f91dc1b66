import { operations } from '../../../../contract/operations'
import { route } from '../../../../http/route'
import { takeFactors } from '../../../../usecases/people/doors'

export default route(operations.takeFactors, ({ db, actor, id, caller }) => takeFactors(db, actor, id, caller))
