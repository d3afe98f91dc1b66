// npm run backup -- FILE: writes the database into a file, while Fides runs or not, and beside it what it is sealed
// with.
import { existsSync } from 'node:fs'
import { dumpDatabase, keepSecrets, noteBackup, reachDatabase, secretsFile } from './dump'
import { readSystemSettings } from './settings'

const [file] = process.argv.slice(2)
const stop = (line: string): never => {
  process.stderr.write(`No backup was made. ${line}\n`)
  process.exit(1)
}
if (!file) stop('Name the file to write, like: npm run backup -- fides.sql')
for (const name of [file!, secretsFile(file!)])
  if (existsSync(name)) stop(`${name} is there already; nothing is overwritten.`)
const settings = readSystemSettings('production')
const { url, leave } = await reachDatabase(settings)
try {
  const octets = await dumpDatabase(url, file!)
  process.stdout.write(`${file}: ${octets.toLocaleString('en')} octets\n`)
  await noteBackup(url)
  if (keepSecrets(settings, file!))
    process.stdout.write(`${secretsFile(file!)}: the installation’s secret; keep it in another place than the backup\n`)
} catch (error) {
  process.stderr.write(`No backup was made. ${(error as Error).message}\n`)
  process.exitCode = 1
} finally {
  await leave()
}
