import { operations } from '../../../contract/operations'
import { route } from '../../../http/route'
import { createLink } from '../../../usecases/links/create-link'
import { storePreview } from '../../../usecases/targets/preview-destination'
import { withTarget } from '../../../usecases/targets/target-view'

export default route(operations.createLink, async ({ db, actor, body }) => {
  const link = await createLink(db, actor, body)
  // The link is created either way; a worker checks what is not stored here.
  await storePreview(db, link.destination).catch(() => undefined)
  return withTarget(db, link)
})
