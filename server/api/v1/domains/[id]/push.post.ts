import { operations } from '../../../../contract/operations'
import { useNames } from '../../../../http/context'
import { route } from '../../../../http/route'
import { pushPlan } from '../../../../usecases/domains/push-records'

export default route(operations.push, ({ db, actor, id, body }) => pushPlan(db, useNames(), actor, id, body.step))
