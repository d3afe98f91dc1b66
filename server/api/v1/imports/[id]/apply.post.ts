import { operations } from '../../../../contract/operations'
import { route } from '../../../../http/route'
import { applyIntake } from '../../../../usecases/exchange/apply-intake'

export default route(operations.applyIntake, ({ db, actor, id, version }) => applyIntake(db, actor, id, version))
