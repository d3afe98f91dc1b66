import { adminVariables } from '../../environment/variables'
import { readEnvironment } from '../../environment/read'
import { openDatabase, type Database } from '../database/open'
import { makeNamesContext, type NamesContext } from '../names/context'
import type { MailContext } from '../usecases/notices/mail-context'

let database: Database | undefined
let names: NamesContext | undefined
let settings: ReturnType<typeof readSettings> | undefined

const readSettings = () => readEnvironment(adminVariables)

/** The admin server's settings, read once. */
export const useSettings = () => (settings ??= readSettings())

/** The admin server's pool, opened once. */
export const useDatabase = (): Database => (database ??= openDatabase(useSettings().FIDES_DATABASE_URL))

/** Where the gateway's control port is. */
export const gatewayControl = () => `http://127.0.0.1:${useSettings().FIDES_GATEWAY_CONTROL_PORT}`

/** What the installation knows of itself and of the world's name servers, made once. */
export const useNames = (): NamesContext => (names ??= makeNamesContext(useSettings()))

/** What mails are made with. */
export const useMail = (): MailContext => ({ variables: useSettings(), secret: useNames().sealingKey })
