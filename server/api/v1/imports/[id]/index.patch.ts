import { operations } from '../../../../contract/operations'
import { useSettings } from '../../../../http/context'
import { route } from '../../../../http/route'
import { changeIntake } from '../../../../usecases/exchange/intakes'

export default route(operations.changeIntake, ({ db, id, version, body }) =>
  changeIntake(db, useSettings().FIDES_DATABASE_URL, id, version, body),
)
