import { freePort } from '../../scripts/ports'
import { openMail, type MailTransport } from '../../server/mail/transport'
import type { MailContext } from '../../server/usecases/notices/mail-context'
import { Mailbox } from '../../standins/mailbox/mailbox'

/** A mailbox, and what mails to it are made and sent with. */
export class MailWorld {
  private constructor(
    readonly mailbox: Mailbox,
    readonly context: MailContext,
    readonly transport: MailTransport,
  ) {}

  static async start(): Promise<MailWorld> {
    const mailbox = new Mailbox()
    const ports = { smtp: await freePort(), web: await freePort() }
    await mailbox.listen(ports)
    const variables = {
      FIDES_SMTP_URL: `smtp://127.0.0.1:${ports.smtp}`,
      FIDES_MAIL_FROM: 'links@portansel.example',
      FIDES_DESK_ADDRESS: 'https://desk.portansel.example',
      FIDES_NOTICE_SECONDS: 0,
    }
    return new MailWorld(mailbox, { variables, secret: Buffer.alloc(32, 7) }, openMail(variables)!)
  }

  async stop(): Promise<void> {
    this.transport.close()
    await this.mailbox.close()
  }
}
