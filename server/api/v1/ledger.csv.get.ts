import { operations } from '../../contract/operations'
import { route } from '../../http/route'
import { exportLedger } from '../../usecases/ledger/export-ledger'

export default route(operations.exportLedger, ({ db, actor, query }) => exportLedger(db, actor, query))
