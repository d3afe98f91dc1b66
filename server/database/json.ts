/** A column of JSON from a plain query: parsed by the driver already, or as its text, as the column has it. */
export const fromJson = <Value>(value: unknown): Value =>
  (typeof value === 'string' ? JSON.parse(value) : (value ?? null)) as Value
