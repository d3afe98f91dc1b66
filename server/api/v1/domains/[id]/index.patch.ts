import { operations } from '../../../../contract/operations'
import { route } from '../../../../http/route'
import { changeDomain } from '../../../../usecases/domains/change-domain'

export default route(operations.changeDomain, ({ db, actor, id, version, body }) =>
  changeDomain(db, actor, id, version, body),
)
