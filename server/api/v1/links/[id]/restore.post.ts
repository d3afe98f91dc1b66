import { operations } from '../../../../contract/operations'
import { route } from '../../../../http/route'
import { restoreLink } from '../../../../usecases/ledger/restore'

export default route(operations.restoreLink, ({ db, actor, id, version, body }) =>
  restoreLink(db, actor, id, version, body),
)
