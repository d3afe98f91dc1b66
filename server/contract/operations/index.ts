import { changes } from './changes'
import { docket } from './docket'
import { domains } from './domains'
import { exchange } from './exchange'
import { ledger } from './ledger'
import { links } from './links'
import { misses } from './misses'
import { notices } from './notices'
import { people } from './people'
import { rules } from './rules'
import { service } from './service'
import { targets } from './targets'
import { traffic } from './traffic'
import { zones } from './zones'

/** Every operation of the API, by name; a new one goes into the file of its subject. */
export const operations = {
  ...people,
  ...domains,
  ...zones,
  ...docket,
  ...links,
  ...rules,
  ...ledger,
  ...targets,
  ...changes,
  ...exchange,
  ...misses,
  ...notices,
  ...traffic,
  ...service,
} as const
