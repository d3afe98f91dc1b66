import { BlockList } from 'node:net'
import { makeLookUp } from '../../targets/resolve'
import type { Asker, Turns } from '../../targets/asker'
import { isOwnAddress } from '../../names/check-networks'
import type { NamesContext } from '../../names/context'
import type { Database } from '../../database/open'
import type { Settings } from '../../../core/schemas'
import { makeOwnAnswers } from './own-answers'
import { readSettings } from './check-settings'
import { sharedTurns } from './shared-turns'

/** How long a server may take with one answer. */
const TIMEOUT_MS = 15_000
/** Settings are read anew after this. */
const KEPT_MS = 3000

/** What one process checks with. */
export interface Checks {
  asker: Asker
  settings: Settings
}

/** The name we give ourselves: what we are, and whom to turn to (RFC 9110 §10.1.5). */
export const userAgent = (contact: string): string =>
  `Fides/1.0 (destination check${contact ? `; +${contact.includes('@') ? 'mailto:' : ''}${contact}` : ''})`

/** Networks as a list to ask. */
export function networkList(networks: readonly string[]): BlockList {
  const list = new BlockList()
  for (const network of networks) {
    const [address = '', prefix] = network.split('/')
    const family = address.includes(':') ? 'ipv6' : 'ipv4'
    list.addSubnet(address, prefix === undefined ? (family === 'ipv6' ? 128 : 32) : Number(prefix), family)
  }
  return list
}

/**
 * Makes what gives a process its checks as the settings of the moment are; `turns` stands in for the politeness all
 * processes share.
 */
export function makeChecks(
  db: Database,
  names: NamesContext,
  options: { turns?: Turns; lookUp?: Asker['lookUp'] } = {},
): () => Promise<Checks> {
  const lookUp = options.lookUp ?? makeLookUp(names)
  const own = makeOwnAnswers(db)
  let kept: { at: number; checks: Promise<Checks> } | undefined
  const make = async (): Promise<Checks> => {
    const settings = await readSettings(db)
    const listed = networkList(settings.checkNetworks)
    return {
      settings,
      asker: {
        lookUp,
        own,
        way: names.way,
        mayAsk: (address, port) => names.mayAsk(address, port) || isOwnAddress(address, listed),
        turns: options.turns ?? sharedTurns(db, settings),
        userAgent: userAgent(settings.checkContact),
        timeoutMs: TIMEOUT_MS,
      },
    }
  }
  return () => {
    if (kept && Date.now() - kept.at < KEPT_MS) return kept.checks
    const checks = make()
    kept = { at: Date.now(), checks }
    checks.catch(() => (kept = undefined))
    return checks
  }
}
