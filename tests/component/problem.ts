import type { ProblemDetails } from '../../core/schemas'

/** Problem details with what none of these tests looks at. */
export const problem = (more: Partial<ProblemDetails>): ProblemDetails =>
  ({ type: 'about:blank', title: '', ...more }) as ProblemDetails
