import type { Conflict, ScanProgress } from './model'

/** What a change touched, as things stood before it and after. */
export interface Touched {
  links: ReadonlySet<number>
  /** `host/canonical` of touched links and of the slugs that forward to them. */
  addresses: ReadonlySet<string>
  /** The places touched links lead to. */
  places: ReadonlySet<string>
  /** What touched links look like, by domain. */
  looks: ReadonlySet<string>
  /** The addresses touched links' slugs would have, read as typed. */
  readings: ReadonlySet<string>
  rules: ReadonlySet<number>
  /** Domains whose rules changed, with the text that paths of the changed rules begin with. */
  prefixes: ReadonlyMap<number, ReadonlySet<string>>
  domains: ReadonlySet<number>
  /** Domains whose slug rules changed. */
  slugRules: ReadonlySet<number>
}

/** What a finder examines one at a time: the number of a link, rule or domain, or a key of an index. */
export type Subject = number | string

/**
 * Finds one sort of conflict. After any change it is asked what the change could affect and examines that and nothing
 * else; so its findings must follow from the register alone. Whatever mentions a touched link or rule is examined anew
 * by itself. An `undefined` among findings is a place where others may have their turn.
 */
export interface Finder<Of extends Subject = Subject> {
  phase: ScanProgress['phase']
  /** All there is to examine; begins anew what the finder remembers. */
  all(): Iterable<Of | undefined>
  /** What a change that is made already could affect, beside what mentions touched rows. */
  affectedBy(touched: Touched): Iterable<Of>
  examine(subject: Of): Iterable<Conflict | undefined>
  /** Finds what `examine` would find of all, in a quicker way; with the subject each belongs to. */
  sweep?(): Iterable<[Of, Conflict] | undefined>
}
