import { readEndpoint } from '../../../environment/variables'
import type { ServerAddress } from '../../names/ask'
import type { NamesContext } from '../../names/context'
import { fieldProblem } from '../problem'

/**
 * Where a name server whose address somebody gave is reached. What lies in the operator's own networks is not asked
 * unless they listed it: else whoever may give an address could find out what listens there.
 */
export function wayOf(names: NamesContext, input: string): ServerAddress {
  const endpoint = readEndpoint(input, 53)
  if (!endpoint) throw fieldProblem('server', 'Give the name server’s address, like 192.0.2.53 or [2001:db8::53]:53.')
  if (!names.mayAsk(endpoint.host, endpoint.port))
    throw fieldProblem(
      'server',
      `${endpoint.host} is not a public address, and nothing is asked there. Where the name server is in your own ` +
        'network, have the operator list that in FIDES_PRIVATE_NETWORKS.',
    )
  return names.way(endpoint.host, endpoint.port)
}
