import type { DnsRecord } from '../../../../core/dns'
import type { DocketCaseModel } from '../../../database/models/docket-case'
import type { DomainModel } from '../../../database/models/domain'
import type { Database } from '../../../database/open'
import type { NamesContext } from '../../../names/context'
import type { DomainOverview } from '../../../usecases/domains/domain-overview'
import { toRecordView } from '../../../usecases/domains/domain-zone'
import type { OpenedKey } from '../../../usecases/domains/update-key'
import { remedyView, type ComposedRemedy } from '../../remedy'

export interface Context {
  db: Database
  names: NamesContext
  row: DocketCaseModel
  domain: DomainModel
  overview: DomainOverview
  impact: number
  opened: OpenedKey | undefined
}

export function byHand(
  context: Context,
  title: string,
  sentence: string,
  records: readonly DnsRecord[] = context.overview.plan.needed.pointing,
): ComposedRemedy {
  return {
    view: remedyView({
      id: 'by-hand',
      title,
      sentence,
      records: records.map(toRecordView),
      to: `/domains/${context.domain.id}`,
      visitsKept: context.impact,
    }),
  }
}
