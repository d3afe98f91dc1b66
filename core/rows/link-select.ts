import { columnOf, namesFor, rowReader } from './field'
import { LINK_FIELDS, type LinkRow } from './link'

const reader = rowReader(LINK_FIELDS, 'table')

/**
 * Selects links as the table needs them, from `link l`. A forwarding slug answers as its link does: all but its own
 * address comes from there.
 */
export const LINK_SELECT = `SELECT ${namesFor(LINK_FIELDS, 'table')
  .map((name) => {
    const column = columnOf(LINK_FIELDS, name)
    return LINK_FIELDS[name].answers
      ? `IF(l.forwards_to IS NULL, l.${column}, t.${column}) AS ${column}`
      : `l.${column}`
  })
  .join(', ')} FROM link l LEFT JOIN link t ON t.id = l.forwards_to`

/** Rows of `LINK_SELECT`: one that was merged into another, or ended in its favour, has no address of its own. */
export const toLinkRows = (rows: readonly Record<string, unknown>[]): LinkRow[] =>
  rows.filter((raw) => raw.canonical !== null).map((raw) => reader.fromColumns(raw) as LinkRow)
