// The mailbox as a process: a mail server on loopback that keeps what it is sent, with a page to read it.
import { Mailbox } from './mailbox'

const smtp = Number(process.env.FIDES_MAILBOX_SMTP_PORT ?? 2525)
const web = Number(process.env.FIDES_MAILBOX_PORT ?? 2526)
const mailbox = new Mailbox()
for (const signal of ['SIGTERM', 'SIGINT'] as const)
  process.on(signal, () => void mailbox.close().finally(() => process.exit(0)))
await mailbox.listen({ smtp, web })
process.stdout.write(`mailbox: takes mail at ${smtp}, shows it at http://127.0.0.1:${web}/\n`)
