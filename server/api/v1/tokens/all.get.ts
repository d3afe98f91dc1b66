import { operations } from '../../../contract/operations'
import { route } from '../../../http/route'
import { listAllTokens } from '../../../usecases/people/tokens'

export default route(operations.listAllTokens, async ({ db }) => ({ items: await listAllTokens(db) }))
