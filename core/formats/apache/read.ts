import { readHost } from '../../address'
import { quoted } from '../../patterns'
import type { Format, ReadOptions, Reading, SourceFile } from '../format'
import { FORMAT_NAMES } from '../kinds'
import { countLines, linesOf, READS_ESCAPES, ReadingMaker } from '../reading'
import { readAlias, type Surroundings } from './alias'
import { directivesOf, type Directive } from './directives'
import { readRewrite } from './rewrite'
import type { RewriteContext } from './rewrite-conditions'
import { readFlags } from './rewrite-flags'

const ALIASES = new Set(['redirect', 'redirectpermanent', 'redirecttemp', 'redirectmatch'])
/** Directives that have nothing to do with where an address leads. */
const SILENT = new Set(
  (
    'rewriteoptions servername serveralias serveradmin documentroot errorlog customlog loglevel ' +
    'options allowoverride require order allow deny directoryindex addtype addcharset adddefaultcharset sslengine ' +
    'header sslcertificatefile sslcertificatekeyfile expiresactive expiresbytype expiresdefault fileetag listen ' +
    'protocols satisfy'
  ).split(' '),
)

/** Files of Apache: `.htaccess` and parts of a server’s configuration (Apache 2.4, mod_alias and mod_rewrite). */
function read(files: readonly SourceFile[], options: ReadOptions): Reading {
  const folder = options.context !== 'server'
  const made = new ReadingMaker(
    folder ? `Apache rules of the folder ${options.base ?? '/'}` : 'Apache rules of a server’s configuration',
  )
  if (files[0])
    made.remark(
      { file: files[0].name, line: 1, column: 1 },
      'The server takes several slashes in a row for one; here an address has the slashes it is written with.',
    )
  if (files[0]) made.remark({ file: files[0].name, line: 1, column: 1 }, READS_ESCAPES)
  const base = options.base ?? '/'
  if (files[0] && folder && base !== '/')
    made.remark(
      { file: files[0].name, line: 1, column: 1 },
      `Asked for ${base.slice(0, -1)}, the server adds the slash, as it is a folder there; here it is not found.`,
    )
  const aliases: { directive: Directive; surroundings: Surroundings }[] = []
  for (const file of files) {
    made.reading.lines += countLines(file.text)
    if (isMapText(file, files)) continue
    readFile(made, file, files, options, folder, aliases)
  }
  // Rewriting comes first whatever the order in the file, then Redirect and its kin in their order.
  for (const { directive, surroundings } of aliases)
    readAlias(made, directive, surroundings, options.sameness.trailingSlashMatters)
  return made.reading
}

function readFile(
  made: ReadingMaker,
  file: SourceFile,
  files: readonly SourceFile[],
  { host, base, sameness }: ReadOptions,
  folder: boolean,
  aliases: { directive: Directive; surroundings: Surroundings }[],
): void {
  const directives = [...directivesOf(file)]
  const hosts = hostsOf(directives, host)
  const maps = new Map<string, ReadonlyMap<string, string>>()
  let conditions: Directive[] = []
  let engine = false
  let rewriteBase: string | undefined
  let skipped: Skipped = { rules: 0, line: 0 }
  for (const directive of directives) {
    const { name, args, source } = directive
    const surroundings = hosts.get(sectionOf(directive)) ?? { host, also: [] }
    const undecided = directive.within.map(undecidedSection).find((sentence) => sentence !== undefined)
    if (undecided !== undefined && !SILENT.has(name)) {
      made.refuse(directive, 'section', source, undecided)
      continue
    }
    if (name === 'rewriteengine') engine = /^on$/i.test(args[0] ?? '')
    else if (name === 'rewritebase') rewriteBase = args[0]
    else if (name === 'rewritemap') {
      const map = readMapFile(args, files)
      if (map) maps.set((args[0] ?? '').toLowerCase(), map)
      else if (!/^int:/.test(args[1] ?? ''))
        made.refuse(
          directive,
          'map',
          source,
          `The map “${args[0] ?? ''}” is not among the files.`,
          'Drop its text file together with this one.',
        )
    } else if (name === 'rewritecond') conditions.push(directive)
    else if (name === 'rewriterule') {
      const inFolder = folder || directive.within.some((section) => section.name === 'directory')
      const context: RewriteContext = {
        ...surroundings,
        folder: inFolder ? (base ?? '/') : '',
        rewriteBase,
        maps,
        capitalsMatter: sameness.capitalsMatter,
      }
      if (engine && skipped.rules > 0)
        made.refuse(
          directive,
          'skipped',
          source,
          `Whether the server passes it over is decided by line ${skipped.line}, which is not carried over.`,
        )
      else if (engine) readRewrite(made, directive, conditions, context)
      else
        made.refuse(
          directive,
          'engine-off',
          source,
          'Rewriting is not switched on before it; the server passes it over.',
          'Write “RewriteEngine On” above it.',
        )
      skipped = skippedAfter(directive, skipped)
      conditions = []
    } else if (ALIASES.has(name)) aliases.push({ directive, surroundings })
    else if (!SILENT.has(name))
      made.refuse(
        directive,
        'directive',
        source,
        `“${args.length ? source.split(/\s/)[0] : name}” is nothing a redirect needs; it is not carried over.`,
      )
  }
  for (const directive of conditions) made.refuse(directive, 'condition', directive.source, 'No rule follows it.')
}

/** How many of the next rules may be passed over, and because of which line. */
interface Skipped {
  rules: number
  line: number
}

/**
 * What a rule decides of those after it (Apache 2.4, RewriteRule Flags): `S=n` passes the next n over where it fits,
 * `C` the next one where it does not.
 */
function skippedAfter({ args, line }: Directive, before: Skipped): Skipped {
  const flags = readFlags(args[2] ?? '')
  const rules = Math.max(Number(flags?.get('S') ?? 0) || 0, flags?.has('C') ? 1 : 0)
  const left = Math.max(0, before.rules - 1)
  return rules > left ? { rules, line } : { ...before, rules: left }
}

/** Modules without which none of these directives would be read: a section that asks for them always holds. */
const GIVEN_MODULES = /^(?:mod_)?(?:rewrite|alias)(?:\.c|_module)$/i

/** Why what stands in a section is not decided; `undefined` where it always holds. */
function undecidedSection({ name, argument }: { name: string; argument: string }): string | undefined {
  if (name === 'virtualhost' || name === 'directory') return undefined
  if (name === 'ifmodule' && GIVEN_MODULES.test(argument)) return undefined
  if (['ifmodule', 'ifdefine', 'ifversion', 'iffile', 'ifdirective', 'ifsection'].includes(name))
    return `It stands in <${name} ${argument}>; whether that holds is known to the server only.`
  return `It stands in <${name} ${argument}>, which holds for some requests only.`
}

/** A section’s key: its virtual host’s place in the file, or none. */
const sectionOf = (directive: Directive) => directive.within.find(({ name }) => name === 'virtualhost')

/** The hosts that each virtual host names. */
function hostsOf(directives: readonly Directive[], host: string): Map<object | undefined, Surroundings> {
  const named = new Map<object | undefined, string[]>()
  for (const directive of directives)
    if (directive.name === 'servername' || directive.name === 'serveralias') {
      const list = named.get(sectionOf(directive)) ?? []
      for (const word of directive.args) {
        const reading = readHost(word.replace(/^https?:\/\//, '').replace(/:\d+$/, ''))
        if (reading.ok) list.push(reading.host)
      }
      named.set(sectionOf(directive), list)
    }
  return new Map([...named].map(([section, [first = host, ...also]]) => [section, { host: first, also }]))
}

const fileName = (path: string) => path.split('/').at(-1)!.toLowerCase()

/** A map of text: key and value a line (Apache 2.4, RewriteMap, txt). */
function readMapFile(args: readonly string[], files: readonly SourceFile[]): Map<string, string> | undefined {
  const path = /^txt:(.+)$/.exec(args[1] ?? '')?.[1]
  const file = path === undefined ? undefined : files.find(({ name }) => fileName(name) === fileName(path))
  if (!file) return undefined
  const map = new Map<string, string>()
  for (const { text } of linesOf(file.text)) {
    const [key = '', value] = text.trim().split(/\s+/)
    if (key !== '' && !key.startsWith('#') && value !== undefined && !map.has(key)) map.set(key, value)
  }
  return map
}

/** Whether a file is the text of a map another file names. */
const isMapText = (file: SourceFile, files: readonly SourceFile[]) =>
  files.some(
    (other) =>
      other !== file &&
      new RegExp(`RewriteMap\\s+\\S+\\s+"?txt:\\S*${quoted(fileName(file.name))}`, 'i').test(other.text),
  )

export const apache: Format = {
  id: 'apache',
  name: FORMAT_NAMES.apache,
  source: 'Apache HTTP Server 2.4 documentation: mod_alias, mod_rewrite, Configuration Files.',
  endings: ['htaccess', 'conf'],
  resembles({ name, text }) {
    if (/(?:^|[/.])htaccess$/i.test(name)) return 1
    return /^\s*(?:Redirect(?:Match|Permanent|Temp)?\s+\S+\s+\S|Rewrite(?:Rule|Cond|Engine|Map)\s)/im.test(text)
      ? 0.95
      : 0
  },
  read,
}
