/** What becomes of the visitor's query at the destination (semantics §1 item 8). */
export type QueryPolicy = 'discard' | 'carry'
/** Who wins where both have a parameter of one name. */
export type QueryConflict = 'destination' | 'visitor' | 'both'

/** A parameter's name as it is compared: percent-decoded where that is possible, else as it stands. */
export function parameterName(parameter: string): string {
  const equals = parameter.indexOf('=')
  const raw = equals === -1 ? parameter : parameter.slice(0, equals)
  if (!raw.includes('%')) return raw
  try {
    return decodeURIComponent(raw)
  } catch {
    return raw
  }
}

/**
 * Joins the destination's own query with the visitor's. Both without `?`; order and encoding of everything
 * kept stay as they came, the destination's parameters first. Names are compared after percent-decoding.
 */
export function mergeQueries(own: string, visitors: string, conflict: QueryConflict): string {
  if (visitors === '') return own
  if (own === '') return visitors
  if (conflict === 'both') return own + '&' + visitors
  const ownParameters = own.split('&')
  const visitorsParameters = visitors.split('&')
  const winners = new Set((conflict === 'destination' ? ownParameters : visitorsParameters).map(parameterName))
  const keep = (parameter: string) => parameter === '' || !winners.has(parameterName(parameter))
  const kept =
    conflict === 'destination'
      ? [...ownParameters, ...visitorsParameters.filter(keep)]
      : [...ownParameters.filter(keep), ...visitorsParameters]
  return kept.join('&')
}
