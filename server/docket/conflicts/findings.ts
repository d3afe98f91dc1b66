import { createHash } from 'node:crypto'
import { fingerprintOf, describeConflict, type Conflict, type Survey } from '../../../core/conflicts'
import { caseKey, type Finding } from '../keeper'

/** The key of a conflict's case: what the conflict is between, and nothing that may be another tomorrow. */
export const conflictKey = ({ kind, key }: Pick<Conflict, 'kind' | 'key'>): string =>
  caseKey({ kind, domainId: null, linkId: null, subject: key })

/** A conflict as the docket keeps it. */
export function toFinding(survey: Survey, conflict: Conflict): Finding {
  const { subject, severity, headline, sentence, evidence, impact } = describeConflict(survey.state, conflict)
  return {
    kind: conflict.kind,
    key: conflictKey(conflict),
    domainId: conflict.domainId,
    linkId: null,
    links: conflict.links,
    subject,
    severity,
    headline,
    sentence,
    evidence,
    impact,
    harmAt: null,
    print: createHash('sha256').update(fingerprintOf(survey.state, conflict)).digest('hex'),
    conflict,
  }
}
