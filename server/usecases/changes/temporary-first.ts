import { DateTime } from 'luxon'
import { isPermanent, type Redirect } from '../../../core/rows'
import type { Proposal, TemporaryFirst } from '../../../core/schemas'
import type { Database } from '../../database/open'
import { bornLeased } from '../jobs/born-leased'
import { LeasedWork } from '../jobs/leased-work'
import type { Actor } from '../ledger/change'
import { changeLink } from '../links/change-link'
import { findLink } from '../links/find-link'
import { checkDestination } from '../links/link-rules'
import { versionConflict, fieldProblem } from '../problem'
import { changeWords } from './change-words'
import { computeProposal } from './compute-proposal'
import { toProposalView } from './proposal-view'
import { expectedOf, proposalJobs } from './proposal-jobs'

/** The temporary status that keeps or loses the method as a permanent one does (RFC 9110 §15.4). */
const TEMPORARY: Partial<Record<Redirect['status'], Redirect['status']>> = { 301: 302, 308: 307 }
/** Clocks and caches are not exact: so long more is waited. */
const MARGIN_SECONDS = 60

/**
 * Changes a permanent link without anybody going to the old destination afterwards: it answers temporarily at once, and
 * when the last permanent answer it gave has lapsed, it gets its new destination and is permanent again, by itself.
 */
export async function temporaryFirst(
  db: Database,
  actor: Actor,
  id: number,
  version: number,
  { destination, reason }: TemporaryFirst,
): Promise<Proposal> {
  const { link, domain } = await findLink(db, id)
  const { status } = link
  const temporary = TEMPORARY[status]
  if (!isPermanent(status) || temporary === undefined)
    throw fieldProblem('status', 'This link answers temporarily already: a change counts at once.', 409)
  if (link.version !== version) throw versionConflict('this link', { version: link.version }, null)
  checkDestination('destination', destination, domain)
  const words = reason ?? 'Temporary first, so that nobody is sent to the old destination'
  const changed = await changeLink(db, actor, id, version, { status: temporary, reason: words })
  const at = DateTime.utc()
    .plus({ seconds: domain.permanenceSeconds + MARGIN_SECONDS })
    .toJSDate()
  const spec = { steps: [{ do: 'set' as const, destination }], set: { status }, tags: { add: [], remove: [] } }
  const proposal = await db.Proposal.create({
    state: 'computing',
    memberId: actor.memberId,
    actor: actor.name.slice(0, 160),
    role: actor.role,
    selection: { links: [changed.id] },
    spec,
    words: changeWords(spec),
    reason: words,
    at,
    stops: { changed: true, broken: true },
    madeAt: new Date(),
    ...bornLeased(db, {
      state: 'failed',
      problem: 'The calculation was interrupted; create the change again.',
      ended: true,
    }),
  })
  const work = LeasedWork.held(proposalJobs(db), expectedOf(proposal))
  await work.run(() => computeProposal(db, proposal, work, 'waiting'))
  return toProposalView(db, proposal)
}
