// The old website as a process on a loopback port.
import { createOldWebsite } from './old-website'

const port = Number(process.env.FIDES_OLD_WEBSITE_PORT)
const server = createOldWebsite().listen(port, '127.0.0.1', () => process.stdout.write(`website: on port ${port}\n`))
for (const signal of ['SIGTERM', 'SIGINT'] as const) {
  process.on(signal, () => {
    server.close(() => process.exit(0))
    server.closeAllConnections()
  })
}
