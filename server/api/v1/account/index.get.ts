import { operations } from '../../../contract/operations'
import { route } from '../../../http/route'
import { readDoors } from '../../../usecases/people/doors'

export default route(operations.readDoors, ({ db, member, session }) => readDoors(db, member, session))
