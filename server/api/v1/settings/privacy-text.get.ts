import { privacyText } from '../../../../core/visits'
import { operations } from '../../../contract/operations'
import { route } from '../../../http/route'
import { readSettings } from '../../../usecases/targets/check-settings'

export default route(operations.readPrivacyText, async ({ db }) => {
  const organisation = (await db.Organisation.findByPk(1))!
  const domains = await db.Domain.findAll({ attributes: ['host'], order: [['host', 'ASC']] })
  return {
    text: privacyText({
      ...(await readSettings(db)),
      organisation: organisation.name,
      hosts: domains.map(({ host }) => host),
    }),
  }
})
