import { operations } from '../../contract/operations'
import { useNames } from '../../http/context'
import { route } from '../../http/route'
import { traceAddress } from '../../usecases/links/trace-address'

export default route(operations.trace, ({ db, body, actor }) => traceAddress(db, body, { names: useNames(), actor }))
