import { operations } from '../../../../contract/operations'
import { route } from '../../../../http/route'
import { withdrawIntake } from '../../../../usecases/exchange/intakes'

export default route(operations.withdrawIntake, ({ db, actor, id }) => withdrawIntake(db, actor, id))
