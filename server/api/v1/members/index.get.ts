import { operations } from '../../../contract/operations'
import { route } from '../../../http/route'
import { listMembers } from '../../../usecases/people/members'

export default route(operations.listMembers, async ({ db }) => ({ items: await listMembers(db) }))
