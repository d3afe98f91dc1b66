/** A refusal of the API as the desk's own code meets it, for code that Nuxt would give it to. */
export class ApiProblem extends Error {
  constructor(
    readonly problem: {
      status: number
      detail: string
      errors?: { pointer: string; detail: string }[]
      current?: unknown
      conflicts?: unknown
    },
  ) {
    super(problem.detail)
  }
  get status() {
    return this.problem.status
  }
  get fields() {
    return Object.fromEntries((this.problem.errors ?? []).map((fault) => [fault.pointer.slice(1), fault.detail]))
  }
}
