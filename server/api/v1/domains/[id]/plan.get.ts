import { operations } from '../../../../contract/operations'
import { useNames } from '../../../../http/context'
import { route } from '../../../../http/route'
import { readPlan } from '../../../../usecases/domains/domain-plan'

export default route(operations.readPlan, ({ db, id }) => readPlan(db, useNames(), id))
