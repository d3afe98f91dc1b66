import { operations } from '../../../contract/operations'
import { useNames, useSettings } from '../../../http/context'
import { route } from '../../../http/route'
import { fetchIntake } from '../../../usecases/exchange/fetch-intake'

export default route(operations.fetchIntake, ({ db, actor, body }) =>
  fetchIntake(db, useNames(), useSettings().FIDES_DATABASE_URL, actor, body),
)
