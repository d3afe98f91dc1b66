import { operations } from '../../../contract/operations'
import { route } from '../../../http/route'
import { readRule } from '../../../usecases/rules/rules'

export default route(operations.readRule, ({ db, id }) => readRule(db, id))
