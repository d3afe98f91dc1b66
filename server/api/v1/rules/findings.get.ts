import { operations } from '../../../contract/operations'
import { route } from '../../../http/route'
import { listRuleFindings } from '../../../usecases/rules/rule-findings'

export default route(operations.listRuleFindings, async ({ db, query }) => ({
  items: await listRuleFindings(db, query.domain),
}))
