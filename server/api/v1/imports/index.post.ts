import { operations } from '../../../contract/operations'
import { useSettings } from '../../../http/context'
import { route } from '../../../http/route'
import { makeIntake } from '../../../usecases/exchange/intakes'

export default route(operations.makeIntake, ({ db, actor, query, octets }) =>
  makeIntake(db, useSettings().FIDES_DATABASE_URL, actor, query, octets),
)
