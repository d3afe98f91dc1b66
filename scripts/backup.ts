// npm run backup -- FILE: writes the database into a file, while Fides runs or not.
import { existsSync } from 'node:fs'
import { dumpDatabase, reachDatabase } from './dump'
import { readSystemSettings } from './settings'

const [file] = process.argv.slice(2)
const stop = (line: string): never => {
  process.stderr.write(`No backup was made. ${line}\n`)
  process.exit(1)
}
if (!file) stop('Name the file to write, like: npm run backup -- fides.sql')
if (existsSync(file!)) stop(`${file} is there already; nothing is overwritten.`)
const { url, leave } = await reachDatabase(readSystemSettings('production'))
try {
  const octets = await dumpDatabase(url, file!)
  process.stdout.write(`${file}: ${octets.toLocaleString('en')} octets\n`)
} catch (error) {
  process.stderr.write(`No backup was made. ${(error as Error).message}\n`)
  process.exitCode = 1
} finally {
  await leave()
}
