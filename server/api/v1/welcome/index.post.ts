import { operations } from '../../../contract/operations'
import { route } from '../../../http/route'
import { readOneTime } from '../../../usecases/people/one-time'

export default route(operations.readOneTime, ({ db, body }) => readOneTime(db, body.word))
