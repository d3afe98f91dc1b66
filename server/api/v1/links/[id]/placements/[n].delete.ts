import { operations } from '../../../../../contract/operations'
import { route } from '../../../../../http/route'
import { removePlacement } from '../../../../../usecases/links/placements'

export default route(operations.removePlacement, ({ db, actor, id, n }) => removePlacement(db, actor, id, n))
