/** The shape of a path: each run of digits as `#`, so that misses of one series stand together. */
export const shapeOf = (path: string): string => path.replace(/[0-9]+/g, '#')

/** A shape with one changing part as a pattern of rules, and how the part is read out of a path. */
export interface ShapePattern {
  pattern: string
  /** The changing part of a path of this shape. */
  partOf(path: string): string | undefined
}

const literal = (text: string) => text.replace(/[\\*+?:(){}[\]|^$]/g, '\\$&')

/** The pattern of a shape with exactly one run of digits; `undefined` for every other. */
export function shapePattern(shape: string): ShapePattern | undefined {
  const parts = shape.split('#')
  if (parts.length !== 2) return undefined
  const [before, after] = parts as [string, string]
  return {
    pattern: `/${literal(before)}:number(\\d+)${literal(after)}`,
    partOf: (path) => {
      const part = path.slice(before.length, path.length - after.length)
      return path.startsWith(before) && path.endsWith(after) && /^[0-9]+$/.test(part) ? part : undefined
    },
  }
}
