import { operations } from '../../../../contract/operations'
import { route } from '../../../../http/route'
import { readdress } from '../../../../usecases/people/one-time'

export default route(operations.readdressMember, ({ db, actor, id }) => readdress(db, actor, id))
