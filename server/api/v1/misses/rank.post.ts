import { operations } from '../../../contract/operations'
import { route } from '../../../http/route'
import { rankPath } from '../../../usecases/misses/rank-path'

export default route(operations.rankPath, ({ db, body }) => rankPath(db, body))
