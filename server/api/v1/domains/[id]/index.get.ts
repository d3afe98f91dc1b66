import { operations } from '../../../../contract/operations'
import { route } from '../../../../http/route'
import { readDomain } from '../../../../usecases/domains/list-domains'

export default route(operations.readDomain, ({ db, id }) => readDomain(db, id))
