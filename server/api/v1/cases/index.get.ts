import { operations } from '../../../contract/operations'
import { route } from '../../../http/route'
import { listCases } from '../../../usecases/docket/list-cases'

export default route(operations.listCases, ({ db, query }) => listCases(db, query))
