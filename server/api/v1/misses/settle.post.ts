import { operations } from '../../../contract/operations'
import { route } from '../../../http/route'
import { settleMisses } from '../../../usecases/misses/settle-misses'

export default route(operations.settleMisses, ({ db, actor, body }) => settleMisses(db, actor, body))
