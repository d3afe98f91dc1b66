import { buildIfChanged } from '../../scripts/build'
import { freePort } from '../../scripts/ports'
import { writeDemo } from '../../server/database/seed/write-demo'
import { Mailbox } from '../../standins/mailbox/mailbox'
import prepareDatabase from '../prepared-database'
import { TestFides } from '../system/fides'
import { startDemo } from './demo'

/** One Fides with the demo world and a mailbox for all end-to-end tests; the end stops both. */
export default async function start() {
  if (process.env.FIDES_MEASURE === 'demo') return startDemo()
  buildIfChanged((line) => process.stdout.write(line + '\n'))
  await prepareDatabase()
  const mailbox = new Mailbox()
  const ports = { smtp: await freePort(), web: await freePort() }
  await mailbox.listen(ports)
  const fides = await TestFides.start({
    fill: async (db) => void (await writeDemo(db)),
    environment: ({ FIDES_ADMIN_PORT }) => ({
      FIDES_SMTP_URL: `smtp://127.0.0.1:${ports.smtp}`,
      FIDES_MAIL_FROM: 'Port Ansel Transit <links@portansel.example>',
      FIDES_DESK_ADDRESS: `http://127.0.0.1:${FIDES_ADMIN_PORT}`,
      FIDES_NOTICE_SECONDS: '1',
    }),
  })
  process.env.FIDES_E2E_DATABASE = fides.system.databaseUrl
  process.env.FIDES_E2E_ADMIN = fides.system.adminAddress
  process.env.FIDES_E2E_GATEWAY_PORT = String(fides.system.settings.FIDES_GATEWAY_PORT)
  process.env.FIDES_E2E_MAILBOX = `http://127.0.0.1:${ports.web}`
  return async () => {
    await fides.stop()
    await mailbox.close()
  }
}
