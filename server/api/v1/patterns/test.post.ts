import { operations } from '../../../contract/operations'
import { route } from '../../../http/route'
import { testPatterns } from '../../../usecases/rules/patterns'

export default route(operations.testPatterns, ({ db, body }) => testPatterns(db, body))
