import { operations } from '../../../../contract/operations'
import { route } from '../../../../http/route'
import { readIntake } from '../../../../usecases/exchange/intakes'

export default route(operations.readIntake, ({ db, id }) => readIntake(db, id))
