import { operations } from '../../../../contract/operations'
import { route } from '../../../../http/route'
import { tellOwner } from '../../../../usecases/misses/tell-owner'

export default route(operations.tellOwner, ({ db, actor, id, body }) => tellOwner(db, actor, id, body.page))
