import cluster from 'node:cluster'
import { makeLog } from '../environment/log'
import { readEnvironment } from '../environment/read'
import { gatewayVariables } from '../environment/variables'
import { lead } from './lead'
import { serve } from './serve'

const environment = readEnvironment(gatewayVariables)
if (cluster.isPrimary) lead(environment, makeLog('gateway'))
else await serve(environment, makeLog(`gateway ${cluster.worker!.id}`))
