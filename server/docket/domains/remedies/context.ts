import type { DnsRecord } from '../../../../core/dns'
import type { DocketCaseModel } from '../../../database/models/docket-case'
import type { DomainModel } from '../../../database/models/domain'
import type { Database } from '../../../database/open'
import type { NamesContext } from '../../../names/context'
import type { DomainSight } from '../../../usecases/domains/domain-sight'
import { tellRecord } from '../../../usecases/domains/domain-zone'
import type { OpenedKey } from '../../../usecases/domains/update-key'
import { remedyView, type ComposedRemedy } from '../../remedy'

export interface Context {
  db: Database
  names: NamesContext
  row: DocketCaseModel
  domain: DomainModel
  sight: DomainSight
  impact: number
  opened: OpenedKey | undefined
}

export function byHand(
  context: Context,
  title: string,
  sentence: string,
  records: readonly DnsRecord[] = context.sight.plan.needed.pointing,
): ComposedRemedy {
  return {
    view: remedyView({
      id: 'by-hand',
      title,
      sentence,
      records: records.map(tellRecord),
      to: `/domains/${context.domain.id}`,
      visitsKept: context.impact,
    }),
  }
}
