import { operations } from '../../../../../contract/operations'
import { useNames } from '../../../../../http/context'
import { route } from '../../../../../http/route'
import { lookUp } from '../../../../../usecases/domains/domain-plan'

export default route(operations.lookUp, ({ db, id, body }) => lookUp(db, useNames(), id, body))
