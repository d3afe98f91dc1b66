import { RE2JS } from 're2js'
import { z } from 'zod'
import { putTogether, takeApart, type AddressParts } from '../address-parts'
import { stepped, type StepKind } from '../step'

export const REPLACE_IN = ['whole', 'host', 'path', 'query'] as const

interface ReplaceStep {
  do: 'replace'
  in: (typeof REPLACE_IN)[number]
  find: string
  with: string
  /** Whether `find` is an expression in RE2 syntax, whose captures `with` names as `$1` or `${name}`. */
  pattern: boolean
}

const MAX_PATTERN = 500
/** A capture by number or name, or a dollar itself. */
const CAPTURE = /\$(?:(\d+)|\{([^}]*)\}|\$)/g

const compiled = new Map<string, RE2JS>()
function compile(pattern: string): RE2JS {
  let known = compiled.get(pattern)
  if (!known) {
    if (compiled.size > 100) compiled.clear()
    compiled.set(pattern, (known = RE2JS.compile(pattern)))
  }
  return known
}

/** Why an expression or what it is replaced by cannot be read; `undefined` where both can. */
function patternFault({ find, with: replacement, pattern }: ReplaceStep): string | undefined {
  if (!pattern) return undefined
  let expression: RE2JS
  try {
    expression = compile(find)
  } catch (error) {
    return `Not a valid RE2 expression: ${(error as Error).message.replace(/^error parsing regexp: /, '')}.`
  }
  // Tried once, so that a capture that is not there is told before anything is changed.
  const groups = expression.groupCount()
  const named = new Set(Object.keys(expression.namedGroups()))
  for (const [whole, number, name] of replacement.matchAll(CAPTURE)) {
    if (whole === '$$') continue
    if (number !== undefined ? Number(number) > groups : !named.has(name!))
      return `The expression has no capture ${whole}.`
  }
  return undefined
}

function replaceIn(text: string, { find, with: replacement, pattern }: ReplaceStep): string {
  if (!pattern) return text.split(find).join(replacement)
  const matcher = compile(find).matcher(text)
  let told = ''
  let from = 0
  while (matcher.find()) {
    told += text.slice(from, matcher.start())
    told += replacement.replace(CAPTURE, (whole: string, number: string | undefined, name: string | undefined) =>
      whole === '$$' ? '$' : ((number !== undefined ? matcher.group(Number(number)) : matcher.group(name!)) ?? ''),
    )
    from = matcher.end()
  }
  return told + text.slice(from)
}

/** What is found in a part of the address is replaced there, every time it occurs. */
export const replaceStep: StepKind<ReplaceStep> = {
  do: 'replace',
  schema: z
    .strictObject({
      do: z.literal('replace'),
      in: z.enum(REPLACE_IN, 'Choose “whole”, “host”, “path” or “query”.'),
      find: z
        .string('Give what to look for.')
        .min(1, 'Give what to look for.')
        .max(MAX_PATTERN, `At most ${MAX_PATTERN} characters.`),
      with: z.string('Give what to put in its place; it may be empty.').max(2000, 'At most 2,000 characters.'),
      pattern: z.boolean('Say yes or no.').default(false),
    })
    .superRefine((step, context) => {
      const fault = patternFault(step)
      if (fault) context.addIssue({ code: 'custom', path: ['find'], message: fault })
    }) as unknown as z.ZodType<ReplaceStep>,
  words: (step) =>
    `replaces ${step.pattern ? 'what fits ' : ''}“${step.find}” by “${step.with}” in the ` +
    (step.in === 'whole' ? 'address' : step.in),
  take(step, destination) {
    if (step.in === 'whole') return stepped(replaceIn(destination, step))
    const parts = takeApart(destination)
    if (!parts) return stepped(destination)
    const part = parts[step.in]
    if (part === undefined) return stepped(destination)
    // Hosts are the same in capitals and small letters (RFC 9110 §4.2.3).
    const given = step.in === 'host' ? part.toLowerCase() : part
    const wanted = step.in === 'host' && !step.pattern ? { ...step, find: step.find.toLowerCase() } : step
    const after = replaceIn(given, wanted)
    return stepped(after === given ? destination : putTogether({ ...parts, [step.in]: after } as AddressParts))
  },
}
