/** A value as a plain statement writes it into a column: moments in UTC with milliseconds, flags as numbers. */
export const columnValue = (value: unknown): unknown => {
  if (value instanceof Date) return value.toISOString().slice(0, 23).replace('T', ' ')
  return typeof value === 'boolean' ? Number(value) : value
}
