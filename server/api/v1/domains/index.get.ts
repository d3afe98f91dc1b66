import { operations } from '../../../contract/operations'
import { route } from '../../../http/route'
import { listDomains } from '../../../usecases/domains/list-domains'

export default route(operations.listDomains, async ({ db }) => ({ items: await listDomains(db) }))
