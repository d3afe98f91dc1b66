import { operations } from '../../../../contract/operations'
import { route } from '../../../../http/route'
import { listLedger } from '../../../../usecases/ledger/list-ledger'

export default route(operations.linkHistory, ({ db, actor, id, query }) => listLedger(db, actor, query, id))
