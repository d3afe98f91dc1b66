import { z } from 'zod'
import { parameterName } from '../../address/query'
import { putTogether, takeApart } from '../address-parts'
import { stepped, type StepKind } from '../step'

interface ParametersStep {
  do: 'parameters'
  /** Set to a value: in place where the name is there, else at the end. */
  put: { name: string; value: string }[]
  remove: string[]
  rename: { from: string; to: string }[]
}

const name = z.string('Give a name.').min(1, 'Give a name.').max(100, 'At most 100 characters.')
const encode = (text: string) => encodeURIComponent(text).replace(/%20/g, '+')

/** Parameters of the query are taken away, renamed and put, in this order; all others stay as they are. */
export const parametersStep: StepKind<ParametersStep> = {
  do: 'parameters',
  schema: z
    .strictObject({
      do: z.literal('parameters'),
      put: z
        .array(z.strictObject({ name, value: z.string('Give a value.').max(1000, 'At most 1,000 characters.') }))
        .max(20, 'At most 20.')
        .default([]),
      remove: z.array(name).max(20, 'At most 20.').default([]),
      rename: z
        .array(z.strictObject({ from: name, to: name }))
        .max(20, 'At most 20.')
        .default([]),
    })
    .refine(({ put, remove, rename }) => put.length + remove.length + rename.length > 0, {
      error: 'Say which parameters to put, remove or rename.',
    }) as unknown as z.ZodType<ParametersStep>,
  words: ({ put, remove, rename }) =>
    [
      ...remove.map((one) => `takes ${one} away`),
      ...rename.map(({ from, to }) => `renames ${from} to ${to}`),
      ...put.map((one) => `puts ${one.name}=${one.value}`),
    ].join(', '),
  take({ put, remove, rename }, destination) {
    const parts = takeApart(destination)
    if (!parts) return stepped(destination)
    let list = parts.query === undefined || parts.query === '' ? [] : parts.query.split('&')
    const gone = new Set(remove)
    list = list.filter((parameter) => !gone.has(parameterName(parameter)))
    for (const { from, to } of rename)
      list = list.map((parameter) => {
        if (parameterName(parameter) !== from) return parameter
        const equals = parameter.indexOf('=')
        return encode(to) + (equals === -1 ? '' : parameter.slice(equals))
      })
    for (const { name: wanted, value } of put) {
      const written = `${encode(wanted)}=${encode(value)}`
      const at = list.findIndex((parameter) => parameterName(parameter) === wanted)
      if (at === -1) list.push(written)
      else
        list = list.filter((parameter, index) => index <= at || parameterName(parameter) !== wanted).with(at, written)
    }
    const query = list.length > 0 ? list.join('&') : parts.query === '' ? '' : undefined
    return stepped(query === parts.query ? destination : putTogether({ ...parts, query }))
  },
}
