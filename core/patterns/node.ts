import type { CharSet } from './charset'

/** A pattern taken apart. Groups count from 1, in the order of their opening. */
export type Node =
  | { kind: 'empty' }
  | { kind: 'set'; set: CharSet }
  | { kind: 'cat'; items: readonly Node[] }
  | { kind: 'alt'; items: readonly Node[] }
  | { kind: 'repeat'; item: Node; min: number; max: number; lazy: boolean }
  | { kind: 'group'; item: Node; index: number }
  | { kind: 'assert'; at: Assertion }

export type Assertion = 'start' | 'end' | 'word' | 'not-word'

export const EMPTY: Node = { kind: 'empty' }
export const set = (chars: CharSet): Node => ({ kind: 'set', set: chars })
export const cat = (items: readonly Node[]): Node =>
  items.length === 0 ? EMPTY : items.length === 1 ? items[0]! : { kind: 'cat', items }
export const alt = (items: readonly Node[]): Node => (items.length === 1 ? items[0]! : { kind: 'alt', items })

/** The two ways to write a pattern: a URL Pattern pathname, or an expression in RE2 syntax. */
export const SYNTAXES = ['path', 'expression'] as const
export type Syntax = (typeof SYNTAXES)[number]

/** Longest pattern kept, in UTF-16 units. */
export const MAX_PATTERN = 1000

/** How two patterns can stand to each other. */
export const RELATIONS = ['disjoint', 'overlap', 'a-covers-b', 'b-covers-a', 'equal'] as const
export type Relation = (typeof RELATIONS)[number]

export interface Pattern {
  syntax: Syntax
  source: string
  node: Node
  /** Captures by the names a template may use: group numbers as they count in `node`. */
  captures: ReadonlyMap<string, number>
  /** Text every match begins with; in the form of canonical paths. */
  prefix: string
}

export type PatternReading = { ok: true; pattern: Pattern } | { ok: false; sentence: string }

/** A pattern that cannot be read; caught where reading begins. */
export class PatternFault extends Error {}
