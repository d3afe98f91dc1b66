import { destinationHash } from '../server/usecases/links/link-state'

const createdAt = new Date()

/** A live link's row as benches fill registers with; what matters to one of them is given. */
export const benchLink = <Own extends { slug: string; destination: string }>(own: Own) => ({
  domainId: 1,
  canonical: own.slug.toLowerCase(),
  destinationHash: destinationHash(own.destination),
  status: 302 as const,
  title: '',
  note: '',
  owner: '',
  standing: 'live' as const,
  startsAt: null,
  endsAt: null,
  resumesAt: null,
  endedDestination: null,
  robots: null,
  referrerPolicy: null,
  searchText: `bench.example/${own.slug}\n${own.destination}`,
  createdAt,
  updatedAt: createdAt,
  ...own,
})
