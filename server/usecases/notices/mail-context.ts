import { DateTime } from 'luxon'
import type { MailFacts } from '../../../core/notices'
import type { MailVariables } from '../../../environment/variables'
import type { Database } from '../../database/open'
import { idOfKey, isSignedFor, signedKey } from '../signed-key'

/** What mails are made and sent with. */
export interface MailContext {
  variables: MailVariables
  /** By which the keys that stop mails are made. */
  secret: Buffer
}

/** What every mail names, as it is now. */
export async function mailFacts(db: Database, { variables }: MailContext): Promise<MailFacts> {
  const organisation = await db.Organisation.findByPk(1, { attributes: ['name', 'timeZone'] })
  return {
    organisation: organisation?.name ?? 'your organisation',
    desk: variables.FIDES_DESK_ADDRESS,
    timeZone: organisation?.timeZone ?? 'UTC',
  }
}

/** A moment as mails tell it. */
export const momentIn = (timeZone: string, at: Date): string =>
  DateTime.fromJSDate(at, { zone: timeZone }).toFormat('ccc d LLL yyyy, HH:mm')

const stopping = (memberId: number) => `stop mails ${memberId}`

/** The key by which a member's mails are stopped without signing in (RFC 8058). */
export const stopKey = ({ secret }: MailContext, memberId: number): string =>
  signedKey(secret, memberId, stopping(memberId))

/** Whose key it is; `undefined` where it is nobody's. */
export function memberOfStopKey(secret: Buffer, key: string): number | undefined {
  const memberId = idOfKey(key)
  return isSignedFor(secret, key, stopping(memberId)) ? memberId : undefined
}

/** The page on which a member stops mails. */
export const stopPage = (context: MailContext, memberId: number): string =>
  `${context.variables.FIDES_DESK_ADDRESS}/stop-mails?key=${stopKey(context, memberId)}`
