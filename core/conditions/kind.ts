import type { z } from 'zod'

/** What conditions look at of a visitor, as plain values. */
export interface Visitor {
  /** The query asked with, without `?`. */
  query: string
  /** The value of Accept-Language; empty where none came. */
  acceptLanguage: string
}

/** Somebody of whom nothing is known. */
export const NOBODY: Visitor = { query: '', acceptLanguage: '' }

/**
 * One kind of condition. A part is what a condition asks in this regard; it is plain data, kept as JSON. Proofs treat
 * parts conservatively: `meets` may be true, and `covers` false, where that cannot be decided.
 */
export interface ConditionKind<Part extends { kind: string }> {
  kind: Part['kind']
  /** Reads a part as it was given. */
  read: z.ZodType<Part>
  /**
   * Makes what tells whether a part holds for a visitor. `rivals` are the parts of this kind, this one among them, of
   * everything that would take the same address; only kinds that choose among them call it.
   */
  holds(part: Part): (visitor: Visitor, rivals: () => readonly Part[]) => boolean
  /** Whether both can hold for one visitor. */
  meets(a: Part, b: Part): boolean
  /** Whether `outer` holds wherever `inner` does. */
  covers(outer: Part, inner: Part): boolean
  /** What a visitor is like for whom all of these hold, as far as that can be. */
  example(parts: readonly Part[]): Partial<Visitor>
  /** What it asks, after “if ”. */
  words(part: Part): string
  /** Changes when what the part asks does. */
  fingerprint(part: Part): string
  /** The request field its answer depends on, for Vary (RFC 9110 §12.5.5); none where the address tells. */
  varies: string | undefined
}
