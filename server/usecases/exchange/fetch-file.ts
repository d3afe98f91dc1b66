import { locationUrl } from '../../../core/targets'
import { MAX_FILE } from '../../../core/schemas'
import { askHop, type HopRequest } from '../../targets/ask-hop'
import { Busy, type Asker } from '../../targets/asker'
import { fieldProblem, Problem } from '../problem'

const MAX_REDIRECTS = 5
/** A long file takes longer than a page. */
const TIMEOUT_MS = 60_000

const refused = (sentence: string) => fieldProblem('address', sentence)

/** The name of a file by its address: what it is called there, else the host. */
const nameOf = ({ pathname, hostname }: URL): string => {
  const last = pathname.split('/').findLast((part) => part !== '') ?? ''
  try {
    return decodeURIComponent(last).slice(0, 200) || hostname
  } catch {
    return last || hostname
  }
}

/**
 * Fetches a file from a server, as a stranger and under the guards of destination checks: no address that is not public
 * unless an administrator listed its network, and each redirect judged anew (semantics §5). Refuses in a sentence what
 * does not come whole.
 */
export async function fetchFile(asker: Asker, address: string): Promise<{ name: string; octets: Buffer }> {
  if (!/^https?:/i.test(address)) throw refused('Give an address that begins with https:// or http://.')
  const patient = { ...asker, timeoutMs: TIMEOUT_MS }
  let url = address
  for (let hop = 0; hop <= MAX_REDIRECTS; hop++) {
    const request: HopRequest = {
      url,
      method: 'GET',
      via: hop === 0 ? 'request' : 'status',
      cookies: '',
      accept: 'text/*;q=0.9,*/*;q=0.5',
      mostOctets: MAX_FILE,
    }
    const { hop: answer, body } = await askHop(patient, request).catch((error: unknown) => {
      if (error instanceof Busy)
        throw new Problem(503, 'Cannot be asked now', `${error.host} asked to be left alone for a while; try later.`)
      throw error
    })
    if (answer.fault) throw refused(`${new URL(url).host}: ${answer.fault.text}.`)
    const status = answer.status ?? 0
    if (status >= 300 && status < 400 && answer.location !== null) {
      const next = locationUrl(answer.location, url)
      if (!next.ok) throw refused(`It leads on to “${answer.location.slice(0, 200)}”, which is no address.`)
      url = next.url
      continue
    }
    if (status !== 200) throw refused(`${new URL(url).host} answers ${status}; 200 and the file were expected.`)
    if (!body || body.cut)
      throw refused(`The file is longer than ${MAX_FILE / 1_000_000} MB, or came too slowly to be whole.`)
    if (body.broken) throw refused('The answer broke off before the file was whole; try again.')
    return { name: nameOf(new URL(address)), octets: body.octets }
  }
  throw refused(`It leads on more than ${MAX_REDIRECTS} times.`)
}
