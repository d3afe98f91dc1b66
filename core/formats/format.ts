import type { Condition } from '../conditions'
import type { Syntax } from '../patterns/node'
import type { Redirect } from '../rows/redirect'
import type { Sameness } from '../address/slug'
import type { FormatId } from './kinds'

/** Where something stands in a file: lines and columns count from 1. */
export interface Place {
  /** The file within a folder; empty where there is one file only. */
  file: string
  line: number
  column: number
}

/** What may be said of a link beside its address and destination. */
export interface LinkDetails {
  title?: string
  note?: string
  owner?: string
  tags?: string[]
  standing?: 'live' | 'paused' | 'ended' | 'retired'
  startsAt?: string | null
  endsAt?: string | null
  resumesAt?: string | null
  endedDestination?: string | null
  robots?: string | null
  referrerPolicy?: string | null
  /** Strangers who mistype another address are never told of it. */
  unlisted?: boolean
}

/** How a redirect answers; what a file leaves open follows the domain. */
export type FileRedirect = Partial<Redirect>

/** A link read from a file. */
export interface FileLink extends Place, FileRedirect, LinkDetails {
  /** The host it is about; null where the file does not say. */
  host: string | null
  /** As one would type it, without the slash it begins with; null where the file has destinations only. */
  slug: string | null
  /** Null where the address is gone (410). */
  destination: string | null
}

/** A rule for many addresses read from a file. */
export interface FileRule extends Place, FileRedirect {
  host: string | null
  syntax: Syntax
  pattern: string
  /** A template over the pattern's captures. */
  destination: string
  condition: Condition
  /** Slugs it leaves alone. */
  except?: string[]
  title?: string
}

/** What is not carried over. */
export interface FileRefusal extends Place {
  /** What kind of thing it is, so that all of a kind can be seen together. */
  code: string
  /** The text as it stands there. */
  source: string
  sentence: string
  /** What would do instead; empty where nothing would. */
  would: string
}

/** Something that is carried over, but answers a little otherwise, or is worth knowing. */
export interface FileRemark extends Place {
  sentence: string
}

/** What a file holds. Links and rules are in the order in which the file's own program would ask them. */
export interface Reading {
  entries: ({ kind: 'link'; link: FileLink } | { kind: 'rule'; rule: FileRule })[]
  refusals: FileRefusal[]
  remarks: FileRemark[]
  /** How it was read, in words: encoding, delimiter, context. */
  readAs: string
  lines: number
}

/** One file as text. */
export interface SourceFile {
  /** With folders, as it was dropped. */
  name: string
  text: string
}

/** Which column of a table holds what; a field without a column is not read. */
export type Columns = Partial<Record<ColumnField, number>>
export const COLUMN_FIELDS = [
  'address',
  'domain',
  'slug',
  'destination',
  'status',
  'title',
  'note',
  'owner',
  'tags',
  'startsAt',
  'endsAt',
  'standing',
] as const
export type ColumnField = (typeof COLUMN_FIELDS)[number]

/** What a person says about a file beside its text. */
export interface ReadOptions {
  /** The host that addresses without one are about. */
  host: string
  /** How that host reads addresses. */
  sameness: Sameness
  /** Where an Apache file applied: in a folder of the site, or in the server’s configuration. */
  context?: 'folder' | 'server'
  /** The folder a `.htaccess` lay in, with slashes: “/” for the top. */
  base?: string
  /** Columns as a person settled them. */
  columns?: Columns
  delimiter?: string
}

/** One kind of file. Reading never throws: what cannot be read is told line by line. */
export interface Format {
  id: FormatId
  /** What a person calls it. */
  name: string
  /** The published source it follows. */
  source: string
  /** Endings of files of this kind, without the dot. */
  endings: readonly string[]
  /** How likely a file is of this kind, from 0 to 1, by its name and beginning. */
  resembles(file: SourceFile): number
  read(files: readonly SourceFile[], options: ReadOptions): Reading
}
