import { operations } from '../../../contract/operations'
import { route } from '../../../http/route'
import { listDomains } from '../../../usecases/change-domain'

export default route(operations.listDomains, async ({ db }) => ({ items: await listDomains(db) }))
