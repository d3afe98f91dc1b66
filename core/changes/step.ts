import type { z } from 'zod'

/** What is known of a destination beside its text. */
export interface StepContext {
  /** Where an all-permanent chain of redirects ended when it was last checked; `undefined` where it did not move. */
  movedTo?: string
}

export type Stepped = { ok: true; destination: string } | { ok: false; sentence: string }

/** One kind of step by which a destination is rewritten. What it does not touch stays octet for octet. */
export interface StepKind<Step extends { do: string }> {
  do: Step['do']
  schema: z.ZodType<Step>
  /** What it does, as the end of a sentence: “replaces “a” by “b” in the path”. */
  words(step: Step): string
  /** The destination after the step: as it was where the step has nothing to do with it. */
  take(step: Step, destination: string, context: StepContext): Stepped
}

export const stepped = (destination: string): Stepped => ({ ok: true, destination })
