import { operations } from '../../../../contract/operations'
import { route } from '../../../../http/route'
import { makeChange } from '../../../../usecases/changes/proposals'

export default route(operations.makeChange, ({ db, actor, id, version }) => makeChange(db, actor, id, version))
