import { operations } from '../../../../../contract/operations'
import { useNames } from '../../../../../http/context'
import { route } from '../../../../../http/route'
import { putZone } from '../../../../../usecases/domains/bring-zone'

export default route(operations.putZone, ({ db, actor, id, octets }) => putZone(db, useNames(), actor, id, octets))
