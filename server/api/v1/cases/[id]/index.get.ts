import { operations } from '../../../../contract/operations'
import { useNames } from '../../../../http/context'
import { route } from '../../../../http/route'
import { readCase } from '../../../../usecases/docket/cases'

export default route(operations.readCase, ({ db, id }) => readCase(db, useNames(), id))
