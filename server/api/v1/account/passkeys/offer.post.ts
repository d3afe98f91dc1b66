import { operations } from '../../../../contract/operations'
import { route } from '../../../../http/route'
import { offerPasskey } from '../../../../usecases/people/passkeys'

export default route(operations.offerPasskey, async ({ db, member, session, caller }) =>
  offerPasskey(db, member, session, caller, (await db.Organisation.findByPk(1))?.name ?? ''),
)
