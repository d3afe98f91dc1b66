import { isPermanent, type RedirectStatus } from '~~/core/rows/redirect-status'

const STATUSES: readonly RedirectStatus[] = [302, 307, 303, 301, 308]

/** The redirect types to choose from, temporary ones first. */
export const REDIRECTS = STATUSES.map((value) => ({
  value,
  title: `${value} ${isPermanent(value) ? 'permanent' : 'temporary'}`,
}))
