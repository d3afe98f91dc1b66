import { operations } from '../../../../../contract/operations'
import { route } from '../../../../../http/route'
import { addPlacement } from '../../../../../usecases/links/placements'

export default route(operations.addPlacement, ({ db, actor, id, body }) => addPlacement(db, actor, id, body))
