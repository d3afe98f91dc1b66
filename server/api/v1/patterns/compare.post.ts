import { operations } from '../../../contract/operations'
import { route } from '../../../http/route'
import { compareTwo } from '../../../usecases/rules/patterns'

export default route(operations.comparePatterns, async ({ body }) => compareTwo(body))
