import { z } from 'zod'
import { readHost } from '../../address'
import { putTogether, takeApart } from '../address-parts'
import { stepped, type StepKind } from '../step'

interface MoveHostStep {
  do: 'move-host'
  from: string
  to: string
}

const host = z.string('Give a host, like www.example.').transform((typed, context) => {
  const reading = readHost(
    typed
      .trim()
      .replace(/^[a-z]+:\/\//i, '')
      .replace(/\/.*$/, ''),
  )
  if (reading.ok) return reading.host
  context.addIssue('This is no host; give one like www.example.')
  return z.NEVER
})

/** Destinations on one host go to the same path and query on another. */
export const moveHostStep: StepKind<MoveHostStep> = {
  do: 'move-host',
  schema: z.strictObject({ do: z.literal('move-host'), from: host, to: host }).refine(({ from, to }) => from !== to, {
    path: ['to'],
    error: 'Both hosts are the same.',
  }) as unknown as z.ZodType<MoveHostStep>,
  words: ({ from, to }) => `moves ${from} to ${to}`,
  take({ from, to }, destination) {
    const parts = takeApart(destination)
    if (!parts) return stepped(destination)
    const reading = readHost(parts.host)
    return stepped(reading.ok && reading.host === from ? putTogether({ ...parts, host: to }) : destination)
  },
}
