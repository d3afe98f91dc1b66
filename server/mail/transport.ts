import { createTransport } from 'nodemailer'
import type { MailVariables } from '../../environment/variables'

export interface OutgoingMail {
  to: { name: string; address: string }
  subject: string
  text: string
  html: string
  messageId: string
  date: Date
  /** The address that stops such mails by one POST (RFC 8058). */
  stop: string | undefined
}

/** Sends mails through the server of the settings. */
export interface MailTransport {
  send(mail: OutgoingMail): Promise<void>
  close(): void
}

const TIMEOUT_MS = 20_000
const LOOPBACK = /^(?:localhost|127(?:\.\d+){3}|\[?::1\]?)$/

/** The way to the mail server; `undefined` where none is named. */
export function openMail({ FIDES_SMTP_URL, FIDES_MAIL_FROM }: MailVariables): MailTransport | undefined {
  if (FIDES_SMTP_URL === undefined) return undefined
  const url = new URL(FIDES_SMTP_URL)
  const secure = url.protocol === 'smtps:'
  const transport = createTransport({
    host: url.hostname.replace(/^\[|\]$/g, ''),
    port: url.port === '' ? (secure ? 465 : 587) : Number(url.port),
    secure,
    ...(url.username !== '' && {
      auth: { user: decodeURIComponent(url.username), pass: decodeURIComponent(url.password) },
      // A password never goes over the network in the clear.
      requireTLS: !secure,
    }),
    // A relay on this machine mostly has a certificate of its own making, and nobody in between.
    ignoreTLS: url.username === '' && LOOPBACK.test(url.hostname),
    connectionTimeout: TIMEOUT_MS,
    greetingTimeout: TIMEOUT_MS,
    socketTimeout: TIMEOUT_MS,
    disableFileAccess: true,
    disableUrlAccess: true,
  })
  return {
    async send({ to, subject, text, html, messageId, date, stop }) {
      await transport.sendMail({
        from: FIDES_MAIL_FROM,
        to,
        subject,
        text,
        html,
        messageId,
        date,
        headers: {
          // RFC 3834: nobody's holiday notice answers it.
          'Auto-Submitted': 'auto-generated',
          ...(stop !== undefined && {
            'List-Unsubscribe': `<${stop}>`,
            'List-Unsubscribe-Post': 'List-Unsubscribe=One-Click',
          }),
        },
      })
    },
    close: () => transport.close(),
  }
}
