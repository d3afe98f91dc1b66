import { FetchError } from 'ofetch'
import type { Factor, ProblemDetails } from '~~/core/schemas'

/** A refusal from the API, with the sentence for each faulty field. */
export class ApiProblem extends Error {
  constructor(readonly problem: ProblemDetails) {
    super(problem.detail)
  }
  get status() {
    return this.problem.status
  }
  /** The first sentence for each field, by its name. */
  get fields(): Record<string, string> {
    const fields: Record<string, string> = {}
    for (const { pointer, detail } of this.problem.errors ?? []) fields[pointer.split('/')[1]!] ??= detail
    return fields
  }
}

const UNREACHABLE: ProblemDetails = {
  type: 'about:blank',
  title: 'No answer',
  status: 0,
  detail: 'The server is not responding. Your entries have been kept; try again in a moment.',
}

type Options = {
  method?: 'GET' | 'POST' | 'PUT' | 'PATCH' | 'DELETE'
  body?: object | string
  /** The media type of a body that is text or a file. */
  type?: string
  query?: object
  version?: number
  signal?: AbortSignal
}

/** Where a 401 is the answer to what was given there. */
const DOORS = /^\/(?:session|welcome)/

/** Has somebody sign in again: in place while a form is open, whose contents must not be lost; true where they did. */
async function takeUpSession(): Promise<boolean> {
  const session = useSessionStore()
  const here = useRoute()
  if (session.forms > 0 && session.session !== undefined && (await session.again())) return true
  if (here.path !== '/sign-in') await navigateTo({ path: '/sign-in', query: { to: here.fullPath } })
  return false
}

/** Calls the API; refusals come as `ApiProblem`. A lost session leads to the sign-in page and back again. */
export async function callApi<Answer>(path: string, options: Options = {}): Promise<Answer> {
  const { version, type, ...rest } = options
  try {
    return await $fetch<Answer>(`/api/v1${path}`, {
      ...(rest as object),
      headers: { ...(version !== undefined && { 'if-match': `"${version}"` }), ...(type && { 'content-type': type }) },
      retry: 0,
    })
  } catch (error) {
    if (rest.signal?.aborted) throw error
    const problem =
      error instanceof FetchError && error.data && typeof error.data === 'object'
        ? (error.data as ProblemDetails)
        : UNREACHABLE
    if (problem.status === 401 && !DOORS.test(path) && (await takeUpSession())) return callApi(path, options)
    const { confirm } = problem as { confirm?: Factor[] }
    if (problem.status === 403 && confirm && (await useSessionStore().confirm(confirm))) return callApi(path, options)
    throw new ApiProblem(problem)
  }
}
