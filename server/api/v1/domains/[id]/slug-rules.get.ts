import { operations } from '../../../../contract/operations'
import { route } from '../../../../http/route'
import { readSlugRules } from '../../../../usecases/slug-rules/slug-rules'

export default route(operations.readSlugRules, ({ db, id }) => readSlugRules(db, id))
