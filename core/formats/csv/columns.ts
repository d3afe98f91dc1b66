import { readFileAddress } from '../address'
import { COLUMN_FIELDS, type ColumnField, type Columns } from '../format'
import { readStatus } from '../status'

/** Words that heads of columns begin with or are, by what they mean; in small letters, without blanks and marks. */
const HEADS: Record<ColumnField, readonly string[]> = {
  address: ['address', 'shortaddress', 'shorturl', 'shortlink', 'short', 'from', 'source', 'oldurl', 'old', 'link'],
  domain: ['domain', 'host', 'hostname'],
  slug: ['slug', 'path', 'code', 'alias', 'keyword', 'backhalf', 'key'],
  destination: [
    'destination',
    'target',
    'longurl',
    'longaddress',
    'long',
    'to',
    'url',
    'newurl',
    'new',
    'leadsto',
    'redirectto',
    'originalurl',
  ],
  status: ['status', 'statuscode', 'type', 'redirecttype', 'httpstatus', 'code301'],
  title: ['title', 'name', 'label'],
  note: ['note', 'notes', 'comment', 'comments', 'description', 'remark'],
  owner: ['owner', 'createdby', 'author', 'responsible'],
  tags: ['tags', 'tag', 'labels', 'category', 'categories', 'group'],
  startsAt: ['startsat', 'starts', 'start', 'begins', 'validfrom', 'activefrom'],
  endsAt: ['endsat', 'ends', 'end', 'expires', 'expiresat', 'expiry', 'expirydate', 'validuntil', 'validto'],
  standing: ['standing', 'state'],
}

const plainHead = (head: string) => head.toLowerCase().replace(/[^\p{L}\p{N}]/gu, '')

export interface MatchedColumns {
  columns: Columns
  /** Whether the first row names the columns. */
  headed: boolean
}

/**
 * Which column holds what: by the names in the first row where they are names, else by what the rows hold. The first
 * of two that fit is taken.
 */
export function matchColumns(rows: readonly (readonly string[])[]): MatchedColumns {
  const [first = []] = rows
  const heads = first.map(plainHead)
  const columns: Columns = {}
  for (const field of COLUMN_FIELDS) {
    const best = HEADS[field]
      .map((word) => heads.indexOf(word))
      .find((at) => at !== -1 && !Object.values(columns).includes(at))
    if (best !== undefined) columns[field] = best
  }
  const named = Object.keys(columns).length > 0 && !first.some(isAddress)
  if (named && columns.destination !== undefined && (columns.address ?? columns.slug) !== undefined)
    return { columns, headed: true }
  // Names in other words than ours are names all the same, where the rows below hold addresses and they do not.
  const headed =
    named || (!first.some(isAddress) && rows.slice(1, 51).some((row) => row.some(isAddress)) && first.length > 1)
  const body = rows.slice(headed ? 1 : 0, 51)
  const found: Columns = named ? { ...columns } : {}
  const width = Math.max(0, ...body.map((row) => row.length))
  const share = (at: number, fits: (cell: string) => boolean) =>
    body.length === 0 ? 0 : body.filter((row) => fits((row[at] ?? '').trim())).length / body.length
  const free = () => Array.from({ length: width }, (_, at) => at).filter((at) => !Object.values(found).includes(at))
  const take = (field: ColumnField, fits: (cell: string) => boolean, last = false) => {
    if (found[field] !== undefined) return
    const fitting = free().filter((at) => share(at, fits) > 0.8)
    const at = last ? fitting.at(-1) : fitting[0]
    if (at !== undefined) found[field] = at
  }
  // Where both sides are whole addresses, what is led to stands on the right.
  take('destination', isAddress, true)
  take('status', (cell) => readStatus(cell) !== undefined)
  if (found.slug === undefined)
    take('address', (cell) => cell !== '' && !/\s/.test(cell) && !('sentence' in readFileAddress(cell)))
  take('title', (cell) => cell !== '')
  return { columns: found, headed }
}

const isAddress = (cell: string) => /^[a-z][a-z0-9+.-]*:\/\/\S+$/i.test(cell.trim())
