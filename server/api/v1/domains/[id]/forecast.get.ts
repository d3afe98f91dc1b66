import { operations } from '../../../../contract/operations'
import { useNames } from '../../../../http/context'
import { route } from '../../../../http/route'
import { readForecast } from '../../../../usecases/domains/domain-observations'

export default route(operations.readForecast, ({ db, id }) => readForecast(db, useNames(), id))
