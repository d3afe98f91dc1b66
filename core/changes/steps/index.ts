import { z } from 'zod'
import type { StepContext, StepKind, Stepped } from '../step'
import { followStep } from './follow'
import { moveHostStep } from './move-host'
import { parametersStep } from './parameters'
import { replaceStep } from './replace'
import { setStep } from './set'

/** Every kind of step; a new one is its file, its line here and its form part. */
const KINDS = [setStep, moveHostStep, replaceStep, parametersStep, followStep] as const

type StepOf<Kind> = Kind extends StepKind<infer Step> ? Step : never
export type Step = StepOf<(typeof KINDS)[number]>
export const STEP_KINDS = KINDS.map((kind) => kind.do)

const kindOf = (step: Step) => KINDS.find((kind) => kind.do === step.do) as unknown as StepKind<Step>

export const stepSchema = z.discriminatedUnion(
  'do',
  KINDS.map(({ schema }) => schema) as never,
  `Choose one of ${STEP_KINDS.join(', ')}.`,
) as unknown as z.ZodType<Step>

export const stepWords = (step: Step): string => kindOf(step).words(step)

/** Takes steps one after the other. */
export function takeSteps(steps: readonly Step[], destination: string, context: StepContext): Stepped {
  let now: Stepped = { ok: true, destination }
  for (const step of steps) {
    if (!now.ok) return now
    now = kindOf(step).take(step, now.destination, context)
  }
  return now
}
