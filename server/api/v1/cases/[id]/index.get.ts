import { operations } from '../../../../contract/operations'
import { useNames } from '../../../../http/context'
import { route } from '../../../../http/route'
import { readCase } from '../../../../usecases/docket/read-case'

export default route(operations.readCase, ({ db, id }) => readCase(db, useNames(), id))
