// npm run client: writes the types of the API's document for the typed client. The tests see that it was run.
import { writeFileSync } from 'node:fs'
import { clientTypes } from './client-types'

writeFileSync('client/api.ts', await clientTypes())
