import type { Format, ReadOptions, Reading, SourceFile } from '../format'
import { FORMAT_NAMES } from '../kinds'
import { countLines, READS_ESCAPES, ReadingMaker } from '../reading'
import { quoted } from '../../patterns'
import { parseNginx, type Statement } from './parse'
import { Servers } from './servers'

/** Files of nginx: `return`, `rewrite`, `map` and `location` (nginx documentation). */
function read(files: readonly SourceFile[], options: ReadOptions): Reading {
  const made = new ReadingMaker('nginx configuration')
  if (files[0]) made.remark({ file: files[0].name, line: 1, column: 1 }, READS_ESCAPES)
  const byName = new Map(files.map((file) => [fileName(file.name), file]))
  const included = new Set<string>()
  const parse = (file: SourceFile, depth: number): Statement[] => {
    const { statements, faults } = parseNginx(file)
    for (const fault of faults) made.refuse(fault, 'syntax', '', fault.sentence)
    return withIncludes(statements, depth)
  }
  const withIncludes = (statements: readonly Statement[], depth: number): Statement[] =>
    statements.flatMap((statement) => {
      if (statement.block) return [{ ...statement, block: withIncludes(statement.block, depth) }]
      if (statement.name !== 'include') return [statement]
      const wanted = fileName(statement.args[0] ?? '')
      const found = wanted.includes('*')
        ? [...byName.values()].filter(({ name }) =>
            new RegExp(`^${quoted(wanted).replaceAll('\\*', '.*')}$`).test(fileName(name)),
          )
        : byName.has(wanted)
          ? [byName.get(wanted)!]
          : []
      if (found.length === 0 || depth >= 5) {
        if (!/mime\.types|fastcgi|proxy_params|ssl/.test(wanted))
          made.refuse(
            statement,
            'include',
            statement.source,
            `“${wanted}” is not among the files.`,
            'Drop it together with this one.',
          )
        return []
      }
      return found.flatMap((file) => {
        included.add(file.name)
        return parse(file, depth + 1)
      })
    })
  const read = files.map((file) => ({ file, statements: parse(file, 0) }))
  for (const { file } of read) made.reading.lines += countLines(file.text)
  const statements = read.filter(({ file }) => !included.has(file.name)).flatMap((one) => one.statements)
  new Servers(made, options).all(statements)
  return made.reading
}

const fileName = (path: string) => path.split('/').at(-1)!

/** How lines of such a configuration begin. */
const BEGINS = [
  /^\s*(?:location\s[^{]*|server\s*)\{/m,
  /^\s*map\s+\S+\s+\$\w+\s*\{/m,
  /^\s*(?:rewrite\s+\S+\s+\S+|return\s+\d{3})[^;\n]*;/m,
]

export const nginx: Format = {
  id: 'nginx',
  name: FORMAT_NAMES.nginx,
  source: 'nginx documentation: ngx_http_core_module, ngx_http_rewrite_module, ngx_http_map_module.',
  endings: ['conf', 'nginx'],
  resembles: ({ text }) => (BEGINS.some((begins) => begins.test(text)) ? 0.95 : 0),
  read,
}
