import { operations } from '../../../../../contract/operations'
import { useNames } from '../../../../../http/context'
import { route } from '../../../../../http/route'
import { takeZone } from '../../../../../usecases/domains/bring-zone'

export default route(operations.transferZone, ({ db, actor, id, body }) => takeZone(db, useNames(), actor, id, body))
