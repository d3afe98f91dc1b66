import { operations } from '../../../../contract/operations'
import { route } from '../../../../http/route'
import { readOldPaths } from '../../../../usecases/domains/old-paths'

export default route(operations.readOldPaths, ({ db, id, octets, query }) => readOldPaths(db, id, octets, query.to))
