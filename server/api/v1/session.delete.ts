import { operations } from '../../contract/operations'
import { route } from '../../http/route'

export default route(operations.signOut, async ({ event }) => {
  await clearUserSession(event)
})
