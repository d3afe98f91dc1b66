import { operations } from '../../contract/operations'
import { route } from '../../http/route'
import { traceAddress } from '../../usecases/links/trace-address'

export default route(operations.trace, ({ db, body }) => traceAddress(db, body))
