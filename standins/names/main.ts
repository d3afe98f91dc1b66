// The outside world's name servers and resolvers as a process, on loopback ports, with their switchboard.
import { NamesWorld } from './world'
import { createNamesControl } from './control'

const ports = (text: string | undefined) => (text ?? '').split(',').map(Number)
const [keyName, secret] = (process.env.FIDES_NAMES_KEY ?? '').split('=', 2)

const world = await NamesWorld.start({
  authorityPorts: ports(process.env.FIDES_NAMES_AUTHORITIES),
  resolverPorts: ports(process.env.FIDES_NAMES_RESOLVERS),
  keys: keyName && secret ? [{ name: `${keyName}.`, secret: Buffer.from(secret, 'base64url') }] : [],
  openTransfers: true,
  speed: Number(process.env.FIDES_TTL_SPEED ?? 1),
})
const control = createNamesControl(world)
const port = Number(process.env.FIDES_NAMES_CONTROL_PORT)
control.listen(port, '127.0.0.1', () =>
  process.stdout.write(
    `names: ${world.authorities.length} name servers and ${world.resolvers.length} resolvers, ` +
      `switchboard on port ${port}\n`,
  ),
)

for (const signal of ['SIGTERM', 'SIGINT'] as const) {
  process.on(signal, () => {
    control.close()
    control.closeAllConnections()
    void world.stop().then(() => process.exit(0))
  })
}
