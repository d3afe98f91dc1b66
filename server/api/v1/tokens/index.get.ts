import { operations } from '../../../contract/operations'
import { route } from '../../../http/route'
import { listTokens } from '../../../usecases/people/tokens'

export default route(operations.listTokens, async ({ db, actor }) => ({ items: await listTokens(db, actor) }))
