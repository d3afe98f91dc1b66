import { operations } from '../../../../contract/operations'
import { useNames } from '../../../../http/context'
import { route } from '../../../../http/route'
import { undo } from '../../../../usecases/ledger/undo'

export default route(operations.undo, ({ db, actor, id, body }) => undo(db, useNames(), actor, id, body))
