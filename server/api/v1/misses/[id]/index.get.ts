import { operations } from '../../../../contract/operations'
import { route } from '../../../../http/route'
import { readMiss } from '../../../../usecases/misses/read-miss'

export default route(operations.readMiss, ({ db, id }) => readMiss(db, id))
