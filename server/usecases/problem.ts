/** One faulty field: a JSON Pointer (RFC 6901) into what was sent, and a sentence saying what would be right. */
export interface FieldFault {
  pointer: string
  detail: string
}

/** A refusal the person can act on; becomes problem details (RFC 9457). */
export class Problem extends Error {
  constructor(
    readonly status: number,
    readonly title: string,
    readonly detail: string,
    readonly errors: FieldFault[] = [],
    readonly more: Record<string, unknown> = {},
  ) {
    super(detail)
  }
}

/** 422: a field cannot be as given. */
export const fieldProblem = (field: string, detail: string, status = 422) =>
  new Problem(status, 'Invalid field', detail, [{ pointer: '/' + field, detail }])

/** 404 for a thing that is not there. */
export const notFound = (what: string) => new Problem(404, 'Not found', `This ${what} does not exist.`)

/** 412: the thing changed after it was read; both versions are told (RFC 9110 §13.1.1). `what` names it. */
export const versionConflict = (what: string, current: unknown, yours: unknown) =>
  new Problem(
    412,
    'Changed by someone else',
    `Someone else has changed ${what} since you opened it. Compare both versions, then save again.`,
    [],
    { current, yours },
  )
