import { operations } from '../../../../contract/operations'
import { route } from '../../../../http/route'
import { lookNow } from '../../../../usecases/domains/domain-observations'

export default route(operations.checkDomain, ({ db, id }) => lookNow(db, id))
