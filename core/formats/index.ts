export { COLUMN_FIELDS } from './format'
export type {
  ColumnField,
  Columns,
  FileLink,
  FileRefusal,
  FileRule,
  Format,
  ReadOptions,
  Reading,
  SourceFile,
} from './format'
export { inferRules } from './infer'
export type { InferredRule } from './infer'
export { inOurOrder } from './order'
export type { Ordered } from './order'
export { FORMATS, findFormat, recognise } from './formats'
