import { operations } from '../../../../contract/operations'
import { useNames } from '../../../../http/context'
import { route } from '../../../../http/route'
import { offerCode } from '../../../../usecases/people/time-codes'

export default route(operations.offerCode, async ({ db, member }) =>
  offerCode(useNames().sealingKey, member, (await db.Organisation.findByPk(1))?.name ?? ''),
)
