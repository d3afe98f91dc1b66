// The small web as a process on loopback ports, with its switchboard; its authority's certificate goes into a file.
import { writeFileSync } from 'node:fs'
import { createSitesControl } from './control'
import { SitesWorld } from './world'

const port = (name: string) => Number(process.env[name])

const world = await SitesWorld.start({
  httpPort: port('FIDES_SITES_HTTP_PORT'),
  httpsPort: port('FIDES_SITES_HTTPS_PORT'),
})
writeFileSync(process.env.FIDES_SITES_AUTHORITY!, world.authority.pem)
const control = createSitesControl(world)
control.listen(port('FIDES_SITES_CONTROL_PORT'), '127.0.0.1', () =>
  process.stdout.write(
    `sites: HTTP on port ${world.httpPort}, TLS on port ${world.httpsPort}, ` +
      `switchboard on port ${process.env.FIDES_SITES_CONTROL_PORT}\n`,
  ),
)

for (const signal of ['SIGTERM', 'SIGINT'] as const) {
  process.on(signal, () => {
    control.close()
    control.closeAllConnections()
    void world.stop().then(() => process.exit(0))
  })
}
