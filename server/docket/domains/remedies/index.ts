import type { DocketCaseModel } from '../../../database/models/docket-case'
import type { DomainModel } from '../../../database/models/domain'
import type { Database } from '../../../database/open'
import type { NamesContext } from '../../../names/context'
import { readOverview } from '../../../usecases/domains/domain-overview'
import { readUpdateKey } from '../../../usecases/domains/update-key'
import { remedyView, type ComposedRemedy } from '../../remedy'
import { outside } from './outside'
import { byHand, type Context } from './context'
import { catchUp, lookAgain, seeCertificate, seeFront, waitForLapse } from './look'
import { letIssuerIn, placeAddresses, placeBack } from './place'

const openKey = (db: Database, names: NamesContext, domain: DomainModel) =>
  readUpdateKey(db, names, domain).catch(() => undefined)

/** The remedies of a case of the Domains lane, worked out and verified now. */
export async function domainRemedies(
  db: Database,
  names: NamesContext,
  row: DocketCaseModel,
): Promise<ComposedRemedy[]> {
  const domain = row.domainId === null ? null : await db.Domain.findByPk(row.domainId)
  if (!domain) return []
  const overview = await readOverview(db, names, domain, new Date())
  const context: Context = {
    db,
    names,
    row,
    domain,
    overview,
    impact: Number(row.impact),
    opened: await openKey(db, names, domain),
  }
  switch (row.kind) {
    case 'record-gone':
    case 'address-changed':
      return [
        ...(await placeBack(context)),
        byHand(context, 'Place the records by hand', 'At the provider of the zone, set these records again:'),
        lookAgain(context),
      ]
    case 'record-beside':
      return [
        ...(await placeBack(context)),
        byHand(
          context,
          'Remove the extra records manually',
          'At the provider of the zone, remove all addresses of the name except these:',
        ),
        lookAgain(context),
      ]
    case 'one-server-changed':
      return [...(await placeBack(context)), await catchUp(context), lookAgain(context)]
    case 'cname-dangling':
      return [...(await placeAddresses(context)), lookAgain(context)]
    case 'caa-shuts-out':
      return [...(await letIssuerIn(context)), lookAgain(context)]
    case 'resolver-late':
      return [waitForLapse(context), lookAgain(context)]
    case 'certificate-fault':
    case 'certificate-ending':
      return [seeCertificate(context), lookAgain(context)]
    case 'renewal-due':
      return [
        {
          view: remedyView({
            id: 'renew',
            title: 'Renew the registration, then enter the new date',
            sentence:
              `Renew ${domain.host} at ${domain.registrar || 'its registrar'} and enter the date it then ` +
              'runs out.',
            to: `/domains/${domain.id}?tab=renewal`,
            visitsKept: context.impact,
          }),
        },
      ]
    case 'server-lame':
    case 'server-silent':
    case 'server-failing':
    case 'server-expired':
    case 'no-server':
    case 'one-family':
    case 'signing-broken':
    case 'signing-ending':
      return [outside(context, row.kind), lookAgain(context)]
    case 'server-behind':
      return [await catchUp(context), lookAgain(context)]
    default:
      return [await seeFront(context), lookAgain(context)]
  }
}
