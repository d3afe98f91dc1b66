import { createHash } from 'node:crypto'
import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { startMariaDb } from '../scripts/mariadb'
import { freePort } from '../scripts/ports'
import { migrate } from '../server/database/migrate'
import { openDatabase } from '../server/database/open'

const MIGRATIONS = 'server/database/migrations'
/** A small redo log is copied fast. What a killed server wrote is in the system's hands by then, and not lost. */
const FLAGS = '--innodb-log-file-size=16M --innodb-flush-log-at-trx-commit=2'

/**
 * Prepares one migrated data folder that every private MariaDB of the tests begins from: copying it takes half a
 * second, where installing and migrating takes ten. Made again when a migration or the server changed.
 */
export default async function prepareDatabase(): Promise<void> {
  const hash = createHash('sha256').update(FLAGS)
  for (const name of readdirSync(MIGRATIONS).sort()) hash.update(readFileSync(join(MIGRATIONS, name)))
  hash.update(readFileSync('scripts/mariadb.ts'))
  const home = join('.data', `tests-database-${hash.digest('hex').slice(0, 16)}`)
  process.env.FIDES_MARIADB_FLAGS = FLAGS
  const stamp = join(home, 'prepared')
  if (!existsSync(stamp)) {
    delete process.env.FIDES_PREPARED_DATA
    mkdirSync('.data', { recursive: true })
    for (const name of readdirSync('.data'))
      if (name.startsWith('tests-database-')) rmSync(join('.data', name), { recursive: true, force: true })
    const server = await startMariaDb(home, await freePort())
    try {
      const db = openDatabase(server.url)
      await migrate(db.sequelize)
      await db.sequelize.close()
    } finally {
      await server.stop()
    }
    writeFileSync(stamp, '')
  }
  process.env.FIDES_PREPARED_DATA = home
}
