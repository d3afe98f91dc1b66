import { operations } from '../../../contract/operations'
import { route } from '../../../http/route'
import { listMisses } from '../../../usecases/misses/list-misses'

export default route(operations.listMisses, ({ db, query }) => listMisses(db, query))
