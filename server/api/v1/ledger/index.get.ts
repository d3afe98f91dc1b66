import { operations } from '../../../contract/operations'
import { route } from '../../../http/route'
import { listLedger } from '../../../usecases/ledger/list-ledger'

export default route(operations.listLedger, ({ db, actor, query }) => listLedger(db, actor, query))
