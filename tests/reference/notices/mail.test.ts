// Mails as a server takes them: sent by nodemailer to smtp-server, read by mailparser (libraries of the registry), with
// the fields of RFC 8058 §3 and RFC 3834 §5.
import { simpleParser } from 'mailparser'
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest'
import { caseMail, digestMail, type MailFacts } from '../../../core/notices'
import { freePort } from '../../../scripts/ports'
import { openMail, type MailTransport } from '../../../server/mail/transport'
import { Mailbox } from '../../../standins/mailbox/mailbox'

const mailbox = new Mailbox()
let transport: MailTransport
beforeAll(async () => {
  const [smtp, web] = [await freePort(), await freePort()]
  await mailbox.listen({ smtp, web })
  transport = openMail({
    FIDES_SMTP_URL: `smtp://127.0.0.1:${smtp}`,
    FIDES_MAIL_FROM: 'Port Ansel Transit <links@portansel.example>',
    FIDES_DESK_ADDRESS: 'https://desk.portansel.example',
    FIDES_NOTICE_SECONDS: 0,
  })!
})
afterAll(async () => {
  transport?.close()
  await mailbox.close()
})
beforeEach(() => {
  mailbox.mails.length = 0
})

const facts: MailFacts = { organisation: 'Port Ansel Transit', desk: 'https://desk.portansel.example', timeZone: 'UTC' }
const STOP = 'https://desk.portansel.example/api/v1/stop-mails?key=1.abc'
const told = (headline: string, sentence = 'It answers 404.') => ({
  id: 7,
  lane: 'targets' as const,
  headline,
  sentence,
  harmed: 137.6,
  name: 'ansl.example/fares',
  ahead: false,
})

async function sent(text: { subject: string; text: string; html: string }, name = 'Ines Caldwell') {
  await transport.send({
    to: { name, address: 'ines@portansel.example' },
    ...text,
    messageId: '<1@fides>',
    date: new Date('2026-11-27T08:00:00Z'),
    stop: STOP,
  })
  const [mail] = mailbox.mails
  return { mail: mail!, parsed: await simpleParser(mail!.raw) }
}

describe('a mail', () => {
  it('arrives plain and as HTML, with the number in it, and can be stopped by one click', async () => {
    const { parsed, mail } = await sent(caseMail(facts, [told('www.portansel.example does not answer')], STOP))
    expect(parsed.subject).toBe('ansl.example/fares: www.portansel.example does not answer, 138 visits a day')
    expect(parsed.from!.text).toBe('"Port Ansel Transit" <links@portansel.example>')
    expect(mail.to).toEqual(['ines@portansel.example'])
    expect(parsed.messageId).toBe('<1@fides>')
    for (const part of [parsed.text!, parsed.html as string]) {
      expect(part).toContain('About 138 visits a day are affected.')
      expect(part).toContain('https://desk.portansel.example/docket?case=7')
      expect(part).toContain(STOP)
    }
    const { unsubscribe, 'unsubscribe-post': post } = parsed.headers.get('list') as unknown as Record<
      string,
      { url?: string; name?: string }
    >
    expect(unsubscribe!.url).toBe(STOP)
    expect(post!.name).toBe('List-Unsubscribe=One-Click')
    expect(parsed.headers.get('auto-submitted')).toBe('auto-generated')
  })

  it('tells many cases of one cause once', async () => {
    const cases = Array.from({ length: 300 }, (_, index) => told(`/stop/${index} does not answer`))
    const { parsed } = await sent(caseMail(facts, cases, STOP))
    expect(parsed.subject).toBe('ansl.example/fares: /stop/0 does not answer and 299 more, 41,280 visits a day')
    expect(parsed.text).toContain('and 290 cases more')
    expect(mailbox.mails).toHaveLength(1)
  })

  const HOSTILE = [
    'x\r\nBcc: everybody@portansel.example',
    'x\nContent-Type: text/html\n\n<script>alert(1)</script>',
    'x\u0085Bcc: a@b.example',
    'x\u2028Bcc: a@b.example\u2029',
    'a\u0000b\u202Ec',
    '"><img src=x onerror=alert(1)>',
    '=?utf-8?Q?Bcc:=20a@b.example?=',
    '-- \r\n.\r\nMAIL FROM:<x@y.example>',
    'ünïcödé 🚌 '.repeat(40),
  ]
  it.each(HOSTILE)('takes no field, receiver or markup from a title: %j', async (title) => {
    for (const text of [
      caseMail(facts, [told(title, title)], STOP),
      digestMail(
        { ...facts, organisation: title },
        { groups: [{ cases: [told(title, title)] }], settled: 1, open: 2, dates: [title], since: 'yesterday' },
        STOP,
      ),
    ]) {
      mailbox.mails.length = 0
      const { parsed, mail } = await sent(text, title)
      expect(mailbox.mails).toHaveLength(1)
      expect(mail.to).toEqual(['ines@portansel.example'])
      expect(parsed.headers.has('bcc')).toBe(false)
      expect([parsed.headers.get('content-type')].flat()).toMatchObject([{ value: 'multipart/alternative' }])
      // eslint-disable-next-line no-control-regex
      expect(parsed.subject).not.toMatch(/[\u0000-\u001f\u0085\u2028\u2029\u202e]/)
      expect(parsed.html).not.toMatch(/<script|<img/)
      expect(parsed.text).toContain(STOP)
    }
  })
})
