import { operations } from '../../../../../contract/operations'
import { useNames } from '../../../../../http/context'
import { route } from '../../../../../http/route'
import { readZoneFiles } from '../../../../../usecases/domains/domain-plan'

export default route(operations.zoneBefore, async ({ db, id }) =>
  Buffer.from((await readZoneFiles(db, useNames(), id)).before, 'latin1'),
)
