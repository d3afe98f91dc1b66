import Papa from 'papaparse'
import { guarded } from '../../../core/formats/csv/guard'
import type { Traffic, TrafficQuery } from '../../../core/schemas'

/** The figures as rows of a table: what it is grouped by, or the series where it is not. */
function tableOf(query: TrafficQuery, told: Traffic): { head: string[]; rows: (string | number | null)[][] } {
  const compared = told.compared !== null
  if (query.by === undefined)
    return {
      head: ['from', 'visits', 'people', ...(compared ? ['visits before'] : [])],
      rows: told.series.map(({ at, visits, people }, index) => [
        at,
        visits,
        people,
        ...(compared ? [told.compared!.series[index]?.visits ?? null] : []),
      ]),
    }
  const titled = query.by === 'link'
  return {
    head: [
      query.by,
      ...(titled ? ['title'] : []),
      'visits',
      'people',
      ...(compared ? ['visits before', 'change'] : []),
    ],
    rows: told.rows.map((row) => [
      row.label,
      ...(titled ? [row.title] : []),
      row.visits,
      row.people,
      ...(compared ? [row.before, row.change] : []),
    ]),
  }
}

const asText = (cell: string | number | null) => (typeof cell === 'string' ? guarded(cell) : cell)

/** The figures as CSV (RFC 4180). */
export function trafficCsv(query: TrafficQuery, told: Traffic): string {
  const { head, rows } = tableOf(query, told)
  return Papa.unparse({ fields: head, data: rows.map((row) => row.map(asText)) }, { newline: '\r\n' }) + '\r\n'
}

/** The figures as a spreadsheet (Office Open XML, ECMA-376). */
export async function trafficSheet(query: TrafficQuery, told: Traffic): Promise<Buffer> {
  const { default: writeExcelFile } = await import('write-excel-file/node')
  const { head, rows } = tableOf(query, told)
  const cell = (value: string | number | null) =>
    value === null ? null : typeof value === 'number' ? { type: Number, value } : { type: String, value }
  const data = [
    head.map((value) => ({ type: String, value, fontWeight: 'bold' as const })),
    ...rows.map((row) => row.map(cell)),
  ]
  return writeExcelFile(data as never).toBuffer()
}
