import { operations } from '../../../../contract/operations'
import { useNames } from '../../../../http/context'
import { route } from '../../../../http/route'
import { readObservations } from '../../../../usecases/domains/domain-observations'

export default route(operations.readObservations, ({ db, id }) => readObservations(db, useNames(), id))
