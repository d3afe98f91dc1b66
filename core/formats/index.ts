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
export { inOurOrder } from './order'
export type { Ordered } from './order'
export { FORMATS, findFormat, recognise } from './formats'
