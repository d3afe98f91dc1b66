/** A record as the handover names it; `name` whole, with its dot. */
export interface HandedRecord {
  name: string
  type: string
  ttl: number
  data: string
}

const line = ({ name, type, ttl, data }: HandedRecord) => `  ${name} ${ttl} IN ${type} ${data}`

/**
 * What to write to the person who keeps a zone: the records to place and those they replace, as lines of a zone file
 * (RFC 1035 §5.1), and the page that shows whether they have arrived.
 */
export function handoverText(handed: {
  host: string
  zone: string
  organisation: string
  place: readonly HandedRecord[]
  replace: readonly HandedRecord[]
  page: string
}): string {
  const { host, zone, organisation, place, replace, page } = handed
  return [
    'Hello,',
    '',
    `${organisation} would like to use ${host} for short links. Please place these records in the zone ${zone}:`,
    '',
    ...place.map(line),
    ...(replace.length > 0 ? ['', 'They replace these, which please remove:', '', ...replace.map(line)] : []),
    '',
    'Please leave all other records as they are.',
    '',
    'This page shows whether the records have arrived; it needs no account:',
    page,
    '',
  ].join('\n')
}
