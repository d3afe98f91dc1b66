import { LAST, type CharSet } from './charset'
import type { Node } from './node'

/** A pattern as an expression in RE2 syntax that matches from the begin of the text to its end. */
export const re2Source = (node: Node): string => `^(?:${write(node)})$`

function write(node: Node): string {
  switch (node.kind) {
    case 'empty':
      return ''
    case 'assert':
      return { start: '^', end: '$', word: '\\b', 'not-word': '\\B' }[node.at]
    case 'set':
      return writeSet(node.set)
    case 'cat':
      return node.items.map((item) => (item.kind === 'alt' ? `(?:${write(item)})` : write(item))).join('')
    case 'alt':
      return node.items.map(write).join('|')
    case 'group':
      return `(${write(node.item)})`
    case 'repeat': {
      const { min, max } = node
      const times =
        max === Infinity
          ? min === 0
            ? '*'
            : min === 1
              ? '+'
              : `{${min},}`
          : min === 0 && max === 1
            ? '?'
            : min === max
              ? `{${min}}`
              : `{${min},${max}}`
      return `(?:${write(node.item)})${times}${node.lazy ? '?' : ''}`
    }
  }
}

function writeSet(set: CharSet): string {
  if (set.length === 0) return '[^\\x{0}-\\x{10FFFF}]'
  if (set.length === 1 && set[0]![0] === 0 && set[0]![1] === LAST) return '(?s:.)'
  return `[${set.map(([low, high]) => (low === high ? escape(low) : `${escape(low)}-${escape(high)}`)).join('')}]`
}

const escape = (code: number) =>
  /[A-Za-z0-9]/.test(String.fromCodePoint(code)) ? String.fromCodePoint(code) : `\\x{${code.toString(16)}}`
