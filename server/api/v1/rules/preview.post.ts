import { operations } from '../../../contract/operations'
import { route } from '../../../http/route'
import { previewRules } from '../../../usecases/rules/preview-rules'

export default route(operations.previewRules, ({ db, body }) => previewRules(db, body))
