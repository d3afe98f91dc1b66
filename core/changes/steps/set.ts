import { z } from 'zod'
import { destination } from '../../schemas/values'
import { stepped, type StepKind } from '../step'

interface SetStep {
  do: 'set'
  destination: string
}

/** Every link gets this destination. */
export const setStep: StepKind<SetStep> = {
  do: 'set',
  schema: z.strictObject({ do: z.literal('set'), destination }) as unknown as z.ZodType<SetStep>,
  words: ({ destination }) => `leads all to ${destination}`,
  take: (step) => stepped(step.destination),
}
