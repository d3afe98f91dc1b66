import { operations } from '../../contract/operations'
import { route } from '../../http/route'
import { readRound } from '../../usecases/docket/round/read-round'

export default route(operations.readMorningRound, ({ db }) => readRound(db))
