import mariadb from 'mariadb'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { VisitEvent } from '../../core/visits'
import { connectionConfig } from '../../environment/database-url'
import type { MemberModel } from '../../server/database/models/member'
import type { MailTransport } from '../../server/mail/transport'
import { stopKey, type MailContext } from '../../server/usecases/notices/mail-context'
import { changeNoticeSettings, readNoticeSettings, stopMails } from '../../server/usecases/notices/notice-settings'
import { writeReports } from '../../server/usecases/notices/reports'
import { sendMails } from '../../server/usecases/notices/send-mail'
import { VisitStore } from '../../server/usecases/traffic/visit-store'
import { storeBatches } from '../../shipper/batch'
import type { Mailbox } from '../../standins/mailbox/mailbox'
import { A_VISIT } from './a-visit'
import { MailWorld } from './mail-world'
import { TestRegister } from './register'

let world: MailWorld
let mailbox: Mailbox
let register: TestRegister
let transport: MailTransport
let context: MailContext
let ines: MemberModel
beforeAll(async () => {
  world = await MailWorld.start()
  ;({ mailbox, context, transport } = world)
  register = await TestRegister.start()
  ines = await register.db.Member.create({
    email: 'ines@portansel.example',
    name: 'Ines',
    role: 'administrator',
    passwordHash: 'x',
    createdAt: new Date(),
  })
})
afterAll(async () => {
  await world?.stop()
  await register?.stop()
})

const settle = async (patch: object) => {
  const { version } = await readNoticeSettings(register.db, context, ines)
  return changeNoticeSettings(register.db, context, ines, version, patch)
}

describe('the report of a week', () => {
  const MONDAY = new Date('2026-11-23T08:00:00Z')
  const report = () => writeReports(new VisitStore(register.db), context, MONDAY)

  it('comes to who wishes it, once, with what was counted and what changed', async () => {
    const link = await register.link('reported', 'https://www.portansel.example/', { title: 'Fares and tickets' })
    const connection = await mariadb.createConnection(connectionConfig(register.url))
    const event = (at: string, visitor: string): VisitEvent => ({
      ...A_VISIT,
      at: Date.parse(at),
      linkId: link.id,
      visitor,
    })
    const events = [
      event('2026-11-16T00:10:00Z', 'aa'.repeat(8)),
      event('2026-11-22T23:50:00Z', 'bb'.repeat(8)),
      event('2026-11-18T12:00:00Z', 'bb'.repeat(8)),
      // The week before, and today, are others.
      event('2026-11-10T12:00:00Z', 'cc'.repeat(8)),
      event('2026-11-23T00:10:00Z', 'cc'.repeat(8)),
    ]
    await storeBatches(connection, [{ key: 'report', events, cuts: [] }], 'Europe/Lisbon')
    await connection.end()
    await report()
    expect(await register.db.Mail.count()).toBe(0)
    await settle({ report: true })
    await report()
    await report()
    await sendMails(register.db, context, transport)
    expect(mailbox.mails.map(({ parsed }) => parsed.subject)).toEqual(['3 visits, 16 to 22 November 2026'])
    const { text } = mailbox.mails[0]!.parsed
    expect(text).toContain('3 visits by 3 people (counted per day), 200% more than before.')
    expect(text).toContain('Fares and tickets (ansl.example/reported): 3, 200% more than before')
    expect(text).toContain('https://desk.portansel.example/traffic?period=own&from=2026-11-16&to=2026-11-22')
    // Stopped with the other mails by one click.
    await stopMails(register.db, context, stopKey(context, ines.id))
    expect((await readNoticeSettings(register.db, context, ines)).report).toBe(false)
  })
})
