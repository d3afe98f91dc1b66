import { operations } from '../../../../contract/operations'
import { route } from '../../../../http/route'
import { lookNow } from '../../../../usecases/domain-observations'

export default route(operations.checkDomain, ({ db, id }) => lookNow(db, id))
