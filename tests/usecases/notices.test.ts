import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest'
import { proposalCreate } from '../../core/schemas'
import type { MemberModel } from '../../server/database/models/member'
import { caseKey, reconcileCases, type Finding } from '../../server/docket/keeper'
import type { MailTransport } from '../../server/mail/transport'
import { makeDueChanges } from '../../server/usecases/changes/due-proposals'
import { makeChange, makeProposal } from '../../server/usecases/changes/proposals'
import { writeDigests } from '../../server/usecases/notices/digests'
import { gatherNotices } from '../../server/usecases/notices/gather-notices'
import { stopKey, type MailContext } from '../../server/usecases/notices/mail-context'
import {
  changeNoticeSettings,
  listMails,
  readNoticeSettings,
  sendTrial,
  stopMails,
} from '../../server/usecases/notices/notice-settings'
import { sendMails } from '../../server/usecases/notices/send-mail'
import { tellChanges } from '../../server/usecases/notices/tell-changes'
import type { Mailbox } from '../../standins/mailbox/mailbox'
import { MailWorld } from './mail-world'
import { Partner } from './partner'
import { refusal, TestRegister } from './register'

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
})
afterAll(async () => {
  await world?.stop()
  await register?.stop()
})

let count = 0
beforeEach(async () => {
  mailbox.mails.length = 0
  mailbox.mood = 'takes'
  const { db } = register
  for (const table of ['mail', 'notice', 'notice_setting', 'digest_mark', 'docket_case_link', 'docket_case'])
    await db.sequelize.query(`DELETE FROM ${table}`)
  await db.Member.update({ active: false }, { where: {} })
  ines = await db.Member.create({
    email: `ines${++count}@portansel.example`,
    name: `Ines ${count}`,
    role: 'administrator',
    passwordHash: 'x',
    createdAt: new Date(),
  })
  await settle({ quiet: false })
})

const settle = async (patch: object) => {
  const { version } = await readNoticeSettings(register.db, context, ines)
  return changeNoticeSettings(register.db, context, ines, version, patch)
}

/** A broken target that so many visits a day lead to, with its target on a host. */
async function finding(name: string, host: string, impact: number, more: Partial<Finding> = {}): Promise<Finding> {
  const key = caseKey({ kind: 'no-answer', domainId: null, linkId: null, subject: name })
  await register.db.Target.bulkCreate(
    [{ hash: key, destination: `https://${host}/${name}`, host, dueAt: new Date(), madeAt: new Date() }],
    { ignoreDuplicates: true },
  )
  return {
    kind: 'no-answer',
    key,
    domainId: 1,
    linkId: null,
    links: [],
    subject: `ansl.example/${name}`,
    severity: 'broken',
    headline: `${host} does not answer`,
    sentence: 'Seen in three checks in a row.',
    evidence: [],
    impact,
    harmAt: null,
    print: null,
    conflict: null,
    ...more,
  }
}
const open = async (found: readonly Finding[], ago = 1000) =>
  reconcileCases(register.db, found, {
    there: await register.db.DocketCase.findAll(),
    now: new Date(Date.now() - ago),
  })
const tell = async () => {
  await gatherNotices(register.db, context)
  await sendMails(register.db, context, transport)
}

describe('a host that fails', () => {
  it('breaks three hundred links and is told by one mail, also when the rest is found later', async () => {
    const found = await Promise.all(Array.from({ length: 300 }, (_, index) => finding(`f${index}`, 'old.example', 2)))
    await open(found.slice(0, 200))
    await Promise.all([tell(), tell()])
    await tell()
    expect(mailbox.mails.map(({ parsed }) => parsed.subject)).toEqual([
      'ansl.example/f0: old.example does not answer and 199 more, 400 visits a day',
    ])
    await open(found)
    await tell()
    expect(mailbox.mails).toHaveLength(1)
    expect(await register.db.DocketCase.count({ where: { noticeId: null } })).toBe(0)
  })
  it('is told apart from another', async () => {
    await open([await finding('a', 'one.example', 60), await finding('b', 'two.example', 70)])
    await tell()
    expect(mailbox.mails).toHaveLength(2)
  })
  it('is told again when it comes back a day later, and not before', async () => {
    const one = await finding('again', 'back.example', 60)
    await open([one], 2000)
    await tell()
    await open([])
    await open([one], 500)
    await tell()
    expect(mailbox.mails).toHaveLength(1)
    await register.db.sequelize.query('UPDATE notice SET seen_at = DATE_SUB(seen_at, INTERVAL 25 HOUR)')
    await open([])
    await open([one], 0)
    await new Promise((resolve) => setTimeout(resolve, 5))
    await tell()
    expect(mailbox.mails).toHaveLength(2)
  })
})

describe('who is told', () => {
  it('nothing of what harms too few, until many have gathered', async () => {
    await open([await finding('s1', 'slow.example', 30)])
    await tell()
    expect(mailbox.mails).toHaveLength(0)
    await open([await finding('s1', 'slow.example', 30), await finding('s2', 'slow.example', 30)])
    await tell()
    expect(mailbox.mails.map(({ parsed }) => parsed.subject)).toEqual([
      'ansl.example/s1: slow.example does not answer and 1 more, 60 visits a day',
    ])
  })
  it('only of their own links where they wish so', async () => {
    await settle({ onlyMine: true })
    const mine = await register.link(`mine${count}`, 'https://x.example/', { owner: ines.name })
    const other = await register.link(`other${count}`, 'https://y.example/', { owner: 'Somebody' })
    await open([
      await finding('m', 'x.example', 60, { links: [mine.id] }),
      await finding('o', 'y.example', 60, { links: [other.id] }),
    ])
    await tell()
    expect(mailbox.mails.map(({ parsed }) => parsed.subject)).toEqual([
      'ansl.example/m: x.example does not answer, 60 visits a day',
    ])
  })
  it('no viewer who never asked, nobody who has left', async () => {
    await register.db.Member.update({ role: 'viewer' }, { where: { id: ines.id } })
    await register.db.NoticeSetting.destroy({ where: { memberId: ines.id } })
    await open([await finding('v', 'v.example', 500)])
    await tell()
    expect(await register.db.Mail.count()).toBe(0)
  })
  it('not twice by two who save at once: the later is refused', async () => {
    const { version } = await readNoticeSettings(register.db, context, ines)
    await settle({ digestHour: 9 })
    const late = changeNoticeSettings(register.db, context, ines, version, { digestHour: 10 })
    expect(await refusal(late)).toMatchObject({ status: 412 })
    expect((await readNoticeSettings(register.db, context, ines)).digestHour).toBe(9)
  })
})

describe('quiet hours', () => {
  it('keep a mail back; what was settled meanwhile is not sent', async () => {
    const hour = Number(
      new Intl.DateTimeFormat('en', { timeZone: 'Europe/Lisbon', hour: 'numeric', hour12: false }).format(),
    )
    await settle({ quiet: true, quietFrom: hour % 24, quietTo: (hour + 2) % 24 })
    await open([await finding('q', 'quiet.example', 60)])
    await tell()
    const [waiting] = (await listMails(register.db, ines)).items
    expect(waiting).toMatchObject({ state: 'waiting' })
    expect(Date.parse(waiting!.dueAt)).toBeGreaterThan(Date.now() + 3600_000 - 60_000)
    expect(mailbox.mails).toHaveLength(0)
    await open([])
    await register.db.Mail.update({ dueAt: new Date(0) }, { where: {} })
    await sendMails(register.db, context, transport)
    expect(mailbox.mails).toHaveLength(0)
    expect((await listMails(register.db, ines)).items[0]).toMatchObject({
      state: 'dropped',
      problem: 'Settled before it was sent.',
    })
  })
})

describe('a mail server', () => {
  it('that is away for now is tried again, under the same Message-ID; one that refuses is not', async () => {
    mailbox.mood = 'away-for-now'
    await sendTrial(register.db, context, ines)
    await sendMails(register.db, context, transport)
    const [mail] = await register.db.Mail.findAll()
    expect(mail).toMatchObject({ state: 'waiting', tries: 1 })
    expect(mail!.dueAt.getTime()).toBeGreaterThan(Date.now() + 50_000)
    mailbox.mood = 'takes'
    await mail!.update({ dueAt: new Date(0) })
    await Promise.all([sendMails(register.db, context, transport), sendMails(register.db, context, transport)])
    expect(mailbox.mails).toHaveLength(1)
    mailbox.mood = 'refuses'
    await sendTrial(register.db, context, ines)
    await sendMails(register.db, context, transport)
    expect((await listMails(register.db, ines)).items[0]).toMatchObject({ state: 'failed' })
  })
})

describe('a digest', () => {
  const NOON = new Date('2026-11-27T12:00:00Z')
  const day = (days: number) => new Date(NOON.getTime() + days * 86_400_000)

  it('comes once a day, tells what opened since the one before, and nothing where nothing did', async () => {
    await settle({ atOnce: false, digest: 'daily', digestHour: 8 })
    await writeDigests(register.db, context, NOON)
    expect(await register.db.Mail.count()).toBe(0)
    await open([await finding('d', 'digest.example', 12)])
    await gatherNotices(register.db, context)
    await register.db.DocketCase.update({ noticedAt: new Date(NOON.getTime() + 1000) }, { where: {} })
    await Promise.all([writeDigests(register.db, context, day(1)), writeDigests(register.db, context, day(1))])
    await writeDigests(register.db, context, new Date(day(1).getTime() + 3600_000))
    const mails = await register.db.Mail.findAll()
    expect(mails.map(({ subject }) => subject)).toEqual(['1 case opened for Test Transit'])
    expect(mails[0]!.text).toContain('Targets: ansl.example/d: digest.example does not answer')
    await writeDigests(register.db, context, day(2))
    expect(await register.db.Mail.count()).toBe(1)
  })
})

describe('the key in a mail', () => {
  it('stops digests and mails at once, those that wait too, and nobody else’s', async () => {
    await open([await finding('k', 'key.example', 60)])
    await gatherNotices(register.db, context)
    await stopMails(register.db, context, stopKey(context, ines.id))
    await sendMails(register.db, context, transport)
    expect(mailbox.mails).toHaveLength(0)
    expect(await readNoticeSettings(register.db, context, ines)).toMatchObject({ digest: 'none', atOnce: false })
  })
  it.each([
    ['made up', (id: number) => `${id}.${'A'.repeat(43)}`],
    ['of another member', (id: number) => `${id + 1}.${stopKey(context, id).split('.')[1]}`],
  ])('is refused when %s', async (_name, key) => {
    expect(await refusal(stopMails(register.db, context, key(ines.id)))).toMatchObject({ status: 403 })
    expect(await readNoticeSettings(register.db, context, ines)).toMatchObject({ atOnce: true })
  })
})

describe('a change set for a moment', () => {
  const set = async (partner: Partner) => {
    const actor = { memberId: ines.id, name: ines.name, role: 'administrator' as const }
    const input = proposalCreate.parse({
      select: { host: partner.host },
      change: partner.move,
      at: new Date(Date.now() + 1500).toISOString(),
      reason: 'the partner moves',
    })
    const proposal = await partner.ready(await makeProposal(register.db, actor, input))
    await makeChange(register.db, actor, proposal.id, proposal.version)
    return proposal
  }
  it('is told whoever set it when it was made, once', async () => {
    const partner = await Partner.make(register)
    await set(partner)
    expect((await makeDueChanges(register.db)).made).toHaveLength(1)
    await Promise.all([tellChanges(register.db, context), tellChanges(register.db, context)])
    await tellChanges(register.db, context)
    await sendMails(register.db, context, transport)
    expect(mailbox.mails).toHaveLength(1)
    expect(mailbox.mails[0]!.parsed.subject).toMatch(/^Made: 3 links changed at /)
    expect(mailbox.mails[0]!.parsed.text).toContain(partner.newHost)
  })
  it('and when it was held, with the reason', async () => {
    const partner = await Partner.make(register)
    await set(partner)
    await register.changeLink(partner.links[1]!, { title: 'Meanwhile' })
    expect((await makeDueChanges(register.db)).held).toHaveLength(1)
    await tellChanges(register.db, context)
    await sendMails(register.db, context, transport)
    expect(mailbox.mails[0]!.parsed.subject).toMatch(/^Held: the change to 3 links of /)
    expect(mailbox.mails[0]!.parsed.text).toContain(`b${partner.number} was changed`)
  })
})
