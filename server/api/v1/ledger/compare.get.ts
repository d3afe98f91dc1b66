import { operations } from '../../../contract/operations'
import { route } from '../../../http/route'
import { compareMoments } from '../../../usecases/ledger/compare'

export default route(operations.compareMoments, ({ db, query }) => compareMoments(db, query))
