import { operations } from '../../../../contract/operations'
import { route } from '../../../../http/route'
import { changeSlugRules, reviewSlugRules } from '../../../../usecases/slug-rules/slug-rules'

export default route(operations.changeSlugRules, ({ db, actor, id, version, query, body }) =>
  query.dryRun === '1' ? reviewSlugRules(db, id, body) : changeSlugRules(db, actor, id, version, body),
)
