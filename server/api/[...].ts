import { defineEventHandler, getRequestURL, setResponseHeader } from 'h3'
import { methodsAt } from '../contract/methods-at'
import { sendProblem } from '../http/route'
import { Problem } from '../usecases/problem'

/** Whatever no operation answers: a script with a wrong address must not take the desk's page for success. */
export default defineEventHandler((event) => {
  const path = getRequestURL(event).pathname
  const methods = methodsAt(path.replace(/^\/api\/v1/, ''))
  if (methods.length === 0)
    return sendProblem(
      event,
      new Problem(404, 'Not found', `The API has nothing at ${path}; /api/v1/openapi.json lists it.`),
    )
  // RFC 9110 §15.5.6.
  setResponseHeader(event, 'Allow', methods.join(', '))
  return sendProblem(
    event,
    new Problem(405, 'Not this method', `${path} answers ${methods.join(', ')}, not ${event.method}.`),
  )
})
