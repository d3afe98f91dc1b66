import { operations } from '../../../../contract/operations'
import { route } from '../../../../http/route'
import { restoreDomain } from '../../../../usecases/ledger/restore'

export default route(operations.restoreDomain, ({ db, actor, id, version, body }) =>
  restoreDomain(db, actor, id, version, body),
)
