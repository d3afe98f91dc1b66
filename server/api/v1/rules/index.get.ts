import { operations } from '../../../contract/operations'
import { route } from '../../../http/route'
import { listRules } from '../../../usecases/rules/rules'

export default route(operations.listRules, async ({ db, query }) => ({ items: await listRules(db, query.domain) }))
