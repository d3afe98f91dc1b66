import type { Database } from '../server/database/open'
import { forgetCertificateEvents, takeFrontLog } from '../server/usecases/domains/certificate-events'
import { forgetDoorEvents } from '../server/usecases/people/door-log'
import { forgetOldTries } from '../server/usecases/people/limit-tries'
import { forgetSessions } from '../server/usecases/people/sessions'
import { destroyVisitorKeys, forgetVisits, makeVisitDays, VISIT_DAYS } from '../server/usecases/traffic/visit-days'
import { forgetProposals } from '../server/usecases/changes/due-proposals'
import { forgetOnceKeys } from '../server/usecases/requests/once-keys'
import { forgetIntakes } from '../server/usecases/exchange/forget-intakes'
import { forgetReplays } from '../server/usecases/replay/replays'
import type { Job } from './leases'
import { forgetObservations } from '../server/usecases/domains/domain-observations'
import { forgetMisses } from '../server/usecases/misses/forget-misses'
import { forgetTargets } from '../server/usecases/targets/link-targets'
import { joinSmallParts, rollVisits } from '../server/usecases/traffic/roll-visits'
import { VisitStore } from '../server/usecases/traffic/visit-store'
import { refreshVisitFigures } from '../server/usecases/traffic/refresh-visit-figures'

/** A batch key is kept for as long as its batch could still be sent again. */
const BATCH_KEY_DAYS = 90

/** Superseded answers are kept so long. */
const OBSERVATION_DAYS = 90

/** What a check saw is kept so long, that it was made so long. */
const CHECK_DAYS = { evidence: 14, checks: 120 }

/** Misses are kept so long. */
const MISS_DAYS = { tokens: 2, single: 35, all: 100 }

async function keepVisitDays(db: Database): Promise<void> {
  await makeVisitDays(db)
  const organisation = await db.Organisation.findByPk(1, { attributes: ['visitDays'] })
  await forgetVisits(db, organisation?.visitDays ?? VISIT_DAYS)
}

let store: VisitStore | undefined

/** Puts raw visits together, and counts the days that are over. */
async function countVisits(db: Database): Promise<void> {
  store ??= new VisitStore(db)
  await joinSmallParts(db)
  await rollVisits(store)
}

/** What the worker does beside the watch. */
export const makeJobs = (environment: { FIDES_FRONT_STATE?: string }): readonly Job[] => [
  { kind: 'forget-sessions', everySeconds: 3600, run: forgetSessions },
  { kind: 'forget-tries', everySeconds: 3600, run: forgetOldTries },
  { kind: 'forget-door-events', everySeconds: 86_400, run: forgetDoorEvents },
  { kind: 'forget-certificate-events', everySeconds: 86_400, run: forgetCertificateEvents },
  { kind: 'visit-days', everySeconds: 3600, run: keepVisitDays },
  { kind: 'destroy-visitor-keys', everySeconds: 60, run: destroyVisitorKeys },
  ...(environment.FIDES_FRONT_STATE === undefined
    ? []
    : [
        {
          kind: 'front-log',
          everySeconds: 2,
          run: (db: Database) => takeFrontLog(db, environment.FIDES_FRONT_STATE!),
        },
      ]),
  { kind: 'forget-observations', everySeconds: 86_400, run: (db) => forgetObservations(db, OBSERVATION_DAYS) },
  { kind: 'forget-targets', everySeconds: 86_400, run: (db) => forgetTargets(db, CHECK_DAYS) },
  { kind: 'forget-proposals', everySeconds: 86_400, run: forgetProposals },
  { kind: 'forget-intakes', everySeconds: 86_400, run: forgetIntakes },
  { kind: 'forget-once-keys', everySeconds: 3600, run: forgetOnceKeys },
  { kind: 'forget-replays', everySeconds: 86_400, run: forgetReplays },
  { kind: 'forget-misses', everySeconds: 86_400, run: (db) => forgetMisses(db, MISS_DAYS) },
  { kind: 'visit-figures', everySeconds: 20, run: refreshVisitFigures },
  { kind: 'count-visits', everySeconds: 30, run: countVisits },
  {
    kind: 'forget-batch-keys',
    everySeconds: 86_400,
    run: (db) =>
      db.sequelize.query('DELETE FROM visit_batch WHERE received_at < DATE_SUB(UTC_TIMESTAMP(3), INTERVAL ? DAY)', {
        replacements: [BATCH_KEY_DAYS],
      }),
  },
]
