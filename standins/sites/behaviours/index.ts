import type { Behaviour } from '../behaviour'
import { ANSWERS } from './answers'
import { FAULTS } from './faults'
import { WALLS } from './walls'
import { WAYS } from './ways'

/** Everything a site can play, by name. */
export const BEHAVIOURS: ReadonlyMap<string, Behaviour> = new Map(
  [...ANSWERS, ...WAYS, ...WALLS, ...FAULTS].map((behaviour) => [behaviour.name, behaviour]),
)
