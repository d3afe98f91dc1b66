import type { SecureContext } from 'node:tls'
import type { LookedUp } from './resolve'

/** A request's turn at a host. */
export interface Turn {
  /** Gives the turn back; with what the host asked to wait for, in milliseconds. */
  done(waitMs?: number): void
}

/** Lets requests to a host through as often as politeness allows. Rejects with `Busy` where a turn is too far off. */
export interface Turns {
  take(host: string): Promise<Turn>
}

/** A host has asked not to be asked before a moment to come. */
export class Busy extends Error {
  constructor(
    readonly host: string,
    readonly waitMs: number,
  ) {
    super(`${host} asked to wait`)
  }
}

/** What checks need of the world outside. */
export interface Asker {
  lookUp(host: string): Promise<LookedUp>
  /** Whether an address may be connected to; asked for the very address that is used. */
  mayAsk(address: string, port: number): boolean
  /** Where an outside address is really reached. */
  way(address: string, port: number): { host: string; port: number }
  turns: Turns
  /** What our own gateway answers for addresses of our domains, which are not asked over the network. */
  own?(url: string): Promise<{ status: number; location: string | null } | undefined>
  userAgent: string
  /** The authorities that are trusted, where not those this machine trusts. */
  trust?: SecureContext
  /** How long a server may take with one answer. */
  timeoutMs: number
}

/** For where nobody need be polite: hosts of one's own, benches. */
export const NO_POLITENESS: Turns = { take: () => Promise.resolve({ done: () => undefined }) }
