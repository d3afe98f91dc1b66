import type { Link } from '~~/core/schemas'

/** The state of a link as its mark shows it: its standing, or that its domain is not open yet. */
export const stateOf = (link: Link): string => (link.waiting && link.standing === 'live' ? 'waiting' : link.standing)
