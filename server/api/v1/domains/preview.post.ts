import { operations } from '../../../contract/operations'
import { useNames } from '../../../http/context'
import { route } from '../../../http/route'
import { previewDomain } from '../../../usecases/domains/preview-domain'

export default route(operations.previewDomain, ({ db, body }) => previewDomain(db, useNames(), body.host))
