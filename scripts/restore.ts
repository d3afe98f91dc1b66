// npm run restore -- FILE: puts a backup in the place of the database; Fides must be stopped.
import { existsSync, readdirSync, rmSync } from 'node:fs'
import { join } from 'node:path'
import { isWholeDump, loadDump, putBackSecrets, reachDatabase } from './dump'
import { requirePorts } from './ports'
import { readSystemSettings } from './settings'

const [file] = process.argv.slice(2)
const settings = readSystemSettings('production')
const stop = (line: string): never => {
  process.stderr.write(`Nothing was restored. ${line}\n`)
  process.exit(1)
}
if (!file || !existsSync(file)) stop('Name the backup to restore, like: npm run restore -- fides.sql')
if (!(await isWholeDump(file!))) stop(`${file} is no whole backup: its last line is missing.`)
await requirePorts([
  {
    port: settings.FIDES_GATEWAY_CONTROL_PORT,
    use: 'the gateway: stop Fides first',
    variable: 'FIDES_GATEWAY_CONTROL_PORT',
  },
  {
    port: settings.FIDES_ADMIN_PORT,
    host: settings.FIDES_ADMIN_HOST,
    use: 'the desk: stop Fides first',
    variable: 'FIDES_ADMIN_PORT',
  },
]).catch((error: Error) => stop(error.message))
const { url, leave } = await reachDatabase(settings)
try {
  await loadDump(url, file!)
  // A table as it was before the restore must not be served.
  const gateways = join(settings.folder, 'gateway')
  for (const place of existsSync(gateways) ? readdirSync(gateways) : [])
    for (const name of ['table.snapshot', 'table.journal', 'table.journal.before'])
      rmSync(join(gateways, place, name), { force: true })
  if (putBackSecrets(settings, file!)) process.stdout.write('the installation’s secret is back as well\n')
  process.stdout.write(`${file} stands in the database; start Fides with npm start\n`)
} catch (error) {
  process.stderr.write(`The restore broke off: ${(error as Error).message}. Run it again before starting Fides.\n`)
  process.exitCode = 1
} finally {
  await leave()
}
