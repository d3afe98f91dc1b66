import { operations } from '../../../contract/operations'
import { route } from '../../../http/route'
import { listIntakes } from '../../../usecases/exchange/intakes'

export default route(operations.listIntakes, ({ db }) => listIntakes(db))
