import Papa from 'papaparse'
import type { Columns } from '../format'
import { matchColumns } from './columns'
import { delimiterOf } from './read'

/** The first rows of a table and which column is taken for what, to be settled by a person. */
export function previewOf(text: string, columns?: Columns): { sample: string[][]; columns: Columns } {
  const { data } = Papa.parse<string[]>(text.slice(0, 50_000).replace(/^\ufeff/, ''), {
    delimiter: delimiterOf(text),
    preview: 60,
    skipEmptyLines: true,
  })
  return {
    sample: data.slice(0, 5).map((row) => row.slice(0, 30).map((cell) => cell.slice(0, 200))),
    columns: columns ?? matchColumns(data).columns,
  }
}
