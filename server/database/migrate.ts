import { SequelizeStorage, Umzug } from 'umzug'
import { QueryTypes, type QueryInterface, type Sequelize } from 'sequelize'
import * as firstTables from './migrations/0001-first-tables'
import * as domainsAndCases from './migrations/0002-domains-and-cases'
import * as rulesAndConflicts from './migrations/0003-rules-and-conflicts'
import * as onePlace from './migrations/0004-one-place'
import * as nameServers from './migrations/0005-what-name-servers-do'
import * as targets from './migrations/0006-targets'
import * as misses from './migrations/0007-misses'
import * as doors from './migrations/0008-doors'
import * as front from './migrations/0009-front'
import * as changes from './migrations/0010-changes'
import * as visitsByDay from './migrations/0011-visits-by-day'
import * as noticesAndDates from './migrations/0012-notices-and-dates'
import * as visitsInColumns from './migrations/0013-visits-in-columns'
import * as exchange from './migrations/0014-exchange'
import * as onceKeys from './migrations/0015-once-keys'
import * as longJobs from './migrations/0016-long-jobs'
import * as causes from './migrations/0017-causes'
import * as searchIndex from './migrations/0018-search-index'
import * as savedSets from './migrations/0019-saved-sets'
import * as clashCauses from './migrations/0020-clash-causes'

/** Every migration in order; listed by hand so that a bundle carries them. */
const MIGRATIONS = [
  firstTables,
  domainsAndCases,
  rulesAndConflicts,
  onePlace,
  nameServers,
  targets,
  misses,
  doors,
  front,
  changes,
  visitsByDay,
  noticesAndDates,
  visitsInColumns,
  exchange,
  onceKeys,
  longJobs,
  causes,
  searchIndex,
  savedSets,
  clashCauses,
]

/** Their names in order. */
export const MIGRATION_NAMES: readonly string[] = MIGRATIONS.map(({ name }) => name)

const MARK = 'migration_under_way'

/**
 * Brings the database to today's form; returns the names of what ran. MariaDB commits each CREATE by itself, so a
 * migration that was cut short leaves a mark, and the next start refuses to guess: restore the backup, or drop the
 * half-made database when it held nothing.
 */
export async function migrate(sequelize: Sequelize): Promise<string[]> {
  await sequelize.query(`CREATE TABLE IF NOT EXISTS ${MARK} (name VARCHAR(120) NOT NULL PRIMARY KEY)`)
  const marks = await sequelize.query<{ name: string }>(`SELECT name FROM ${MARK}`, { type: QueryTypes.SELECT })
  if (marks.length > 0) {
    throw new Error(
      `the database is half migrated: ${marks[0]!.name} was cut short. Restore the backup taken before the ` +
        'upgrade (docs/operating.md), then start again',
    )
  }
  const umzug = new Umzug<QueryInterface>({
    migrations: MIGRATIONS.map(({ name, up, down }) => ({ name, up, down })),
    context: sequelize.getQueryInterface(),
    storage: new SequelizeStorage({ sequelize, tableName: 'migration' }),
    logger: undefined,
  })
  const done: string[] = []
  for (const pending of await umzug.pending()) {
    await sequelize.query(`INSERT INTO ${MARK} (name) VALUES (?)`, { replacements: [pending.name] })
    await umzug.up({ to: pending.name })
    await sequelize.query(`DELETE FROM ${MARK} WHERE name = ?`, { replacements: [pending.name] })
    done.push(pending.name)
  }
  return done
}
