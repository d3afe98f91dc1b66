import { operations } from '../../contract/operations'
import { route } from '../../http/route'
import { listTags } from '../../usecases/links/list-tags'

export default route(operations.listTags, async ({ db }) => ({ items: await listTags(db) }))
