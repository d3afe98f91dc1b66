import { operations } from '../../contract/operations'
import { route } from '../../http/route'
import { lookUpPast } from '../../usecases/ledger/look-up-past'

export default route(operations.lookUpPast, ({ db, query }) => lookUpPast(db, query))
