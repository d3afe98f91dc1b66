import type { MailVariables } from '../environment/variables'
import type { Database } from '../server/database/open'
import { keepDateCases } from '../server/docket/dates/keep-date-cases'
import { openMail } from '../server/mail/transport'
import type { NamesContext } from '../server/names/context'
import { NO_POLITENESS } from '../server/targets/asker'
import { deliverWebhooks } from '../server/usecases/notices/deliver-webhooks'
import { writeDigests } from '../server/usecases/notices/digests'
import { gatherNotices, writeNoticeMails } from '../server/usecases/notices/gather-notices'
import type { MailContext } from '../server/usecases/notices/mail-context'
import { forgetMails } from '../server/usecases/notices/notice-settings'
import { writeReports } from '../server/usecases/notices/reports'
import { sendMails } from '../server/usecases/notices/send-mail'
import { tellChanges } from '../server/usecases/notices/tell-changes'
import { tellEntries } from '../server/usecases/notices/tell-webhooks'
import { VisitStore } from '../server/usecases/traffic/visit-store'
import { makeChecks } from '../server/usecases/targets/check-context'
import type { Job } from './leases'
import { mailsSent, webhooksDelivered } from './metrics'

/**
 * What tells people and programs, in three lines, so that a slow mail server keeps no webhook waiting, and neither
 * keeps what is told from being gathered.
 */
export function makeTellers(
  variables: MailVariables,
  names: NamesContext,
  log: (line: string) => void,
): readonly (readonly Job[])[] {
  const context: MailContext = { variables, secret: names.sealingKey }
  const transport = openMail(variables)
  let store: VisitStore | undefined
  let checks: ReturnType<typeof makeChecks> | undefined
  const gather: readonly Job[] = [
    { kind: 'date-cases', everySeconds: 60, run: (db) => keepDateCases(db) },
    { kind: 'notices', everySeconds: 2, run: (db) => gatherNotices(db, context) },
    { kind: 'notices-again', everySeconds: 20, run: (db) => writeNoticeMails(db, context) },
    { kind: 'tell-changes', everySeconds: 1, run: (db) => tellChanges(db, context) },
    { kind: 'tell-entries', everySeconds: 1, run: tellEntries },
    { kind: 'digests', everySeconds: 30, run: (db) => writeDigests(db, context) },
    {
      kind: 'reports',
      everySeconds: 120,
      run: (db) => {
        store ??= new VisitStore(db)
        return writeReports(store, context)
      },
    },
    { kind: 'forget-mails', everySeconds: 86_400, run: forgetMails },
  ]
  const mail: readonly Job[] = transport
    ? [
        {
          kind: 'mail',
          everySeconds: 2,
          run: async (db) => mailsSent.inc(await sendMails(db, context, transport)),
        },
      ]
    : []
  const webhooks: readonly Job[] = [
    {
      kind: 'webhooks',
      everySeconds: 1,
      run: async (db: Database) => {
        checks ??= makeChecks(db, names, { turns: NO_POLITENESS })
        const { asker } = await checks()
        const sent = await deliverWebhooks(db, names.sealingKey, {
          ...asker,
          own: undefined,
          userAgent: 'Fides/1.0 (webhook)',
        })
        webhooksDelivered.inc(sent)
      },
    },
  ]
  if (!transport) log('no mail is sent: FIDES_SMTP_URL names no server')
  return [gather, webhooks, ...(mail.length > 0 ? [mail] : [])]
}
