import { createServer, type IncomingMessage, type ServerResponse } from 'node:http'
import { simpleParser, type ParsedMail } from 'mailparser'
import { SMTPServer } from 'smtp-server'

/** A mail that came in. */
export interface KeptMail {
  number: number
  at: Date
  to: string[]
  raw: Buffer
  parsed: ParsedMail
}

const MAX_KEPT = 500
const MAX_OCTETS = 2_000_000

/** How the mailbox answers a mail, where not by taking it. */
export type Mood = 'takes' | 'away-for-now' | 'refuses'

/** A mail server that keeps what it is sent, with a page to read it; nothing leaves it. */
export class Mailbox {
  readonly mails: KeptMail[] = []
  mood: Mood = 'takes'
  private count = 0
  private readonly smtp = new SMTPServer({
    authOptional: true,
    disabledCommands: ['STARTTLS', 'AUTH'],
    disableReverseLookup: true,
    logger: false,
    size: MAX_OCTETS,
    onData: (stream, session, done) => {
      const pieces: Buffer[] = []
      stream.on('data', (piece: Buffer) => pieces.push(piece))
      stream.on('end', () => {
        if (this.mood !== 'takes')
          return done(Object.assign(new Error('not now'), { responseCode: this.mood === 'refuses' ? 550 : 451 }))
        const to = session.envelope.rcptTo.map(({ address }) => address)
        this.keep(to, Buffer.concat(pieces)).then(() => done(), done)
      })
    },
  })
  private readonly web = createServer((request, response) => this.show(request, response))

  private async keep(to: string[], raw: Buffer): Promise<void> {
    const parsed = await simpleParser(raw)
    this.mails.unshift({ number: ++this.count, at: new Date(), to, raw, parsed })
    this.mails.length = Math.min(this.mails.length, MAX_KEPT)
  }

  async listen(ports: { smtp: number; web: number }): Promise<void> {
    this.smtp.on('error', () => undefined)
    await Promise.all([
      new Promise<void>((resolve) => this.smtp.listen(ports.smtp, '127.0.0.1', resolve)),
      new Promise<void>((resolve) => this.web.listen(ports.web, '127.0.0.1', resolve)),
    ])
  }

  async close(): Promise<void> {
    this.web.closeAllConnections()
    await Promise.all([
      new Promise<void>((resolve) => this.smtp.close(() => resolve())),
      new Promise<void>((resolve) => this.web.close(() => resolve())),
    ])
  }

  private show(request: IncomingMessage, response: ServerResponse): void {
    const url = new URL(request.url ?? '/', 'http://mailbox.test')
    const number = /^\/(\d+)(\/html)?$/.exec(url.pathname)
    const mail = number && this.mails.find((one) => one.number === Number(number[1]))
    if (url.pathname === '/mails.json')
      return void response.setHeader('content-type', 'application/json').end(
        JSON.stringify(
          this.mails.map(({ number: n, at, to, parsed }) => ({
            number: n,
            at,
            to,
            subject: parsed.subject,
            text: parsed.text,
          })),
        ),
      )
    // What came by mail is shown without scripts, pictures or anything fetched.
    response.setHeader('content-security-policy', "default-src 'none'; style-src 'unsafe-inline'; frame-src 'self'")
    response.setHeader('content-type', 'text/html; charset=utf-8')
    if (mail && number[2]) return void response.end(mail.parsed.html || '')
    if (mail) return void response.end(page(mail.parsed.subject ?? '', mailPage(mail)))
    if (url.pathname !== '/') return void response.writeHead(404).end(page('Not here', '<p>No such mail.</p>'))
    response.end(page('Mailbox', listPage(this.mails)))
  }
}

const ENTITIES: Record<string, string> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;', "'": '&#39;' }
const escaped = (text: string) => text.replace(/[&<>"']/g, (one) => ENTITIES[one]!)

const page = (title: string, body: string) =>
  `<!doctype html><html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width">` +
  `<title>${escaped(title)}</title>` +
  '<style>body{font:15px/1.5 sans-serif;margin:24px auto;max-width:760px;padding:0 16px}' +
  `pre{white-space:pre-wrap;overflow-wrap:anywhere}iframe{width:100%;height:520px;border:1px solid #ccc}` +
  `li{margin:6px 0}</style></head><body>${body}</body></html>`

const moment = (at: Date) => `${at.toISOString().slice(0, 19).replace('T', ' ')} UTC`

const listItem = ({ number, at, to, parsed }: KeptMail) =>
  `<li><a href="/${number}">${escaped(parsed.subject ?? '(no subject)')}</a><br>` +
  `to ${escaped(to.join(', '))}, ${moment(at)}</li>`

const listPage = (mails: readonly KeptMail[]) =>
  `<h1>Mailbox</h1><p>A stand-in: mails of the demo end here.</p>` +
  (mails.length === 0 ? '<p>Nothing has come yet.</p>' : `<ul>${mails.map(listItem).join('')}</ul>`)

const mailPage = ({ number, to, parsed }: KeptMail) =>
  `<p><a href="/">All mails</a></p><h1>${escaped(parsed.subject ?? '')}</h1>` +
  `<p>From ${escaped(parsed.from?.text ?? '')} to ${escaped(to.join(', '))}</p>` +
  `<iframe title="As a page" src="/${number}/html" sandbox></iframe><h2>As plain text</h2>` +
  `<pre>${escaped(parsed.text ?? '')}</pre>`
