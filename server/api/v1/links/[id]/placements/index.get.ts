import { operations } from '../../../../../contract/operations'
import { route } from '../../../../../http/route'
import { listPlacements } from '../../../../../usecases/links/placements'

export default route(operations.listPlacements, async ({ db, id }) => ({ items: await listPlacements(db, id) }))
