import { z } from 'zod'
import { stepped, type StepKind } from '../step'

interface FollowStep {
  do: 'follow'
}

/** Destinations that moved for good, by every redirect of their last check, go to where they moved. */
export const followStep: StepKind<FollowStep> = {
  do: 'follow',
  schema: z.strictObject({ do: z.literal('follow') }),
  words: () => 'follows permanent moves',
  take: (_step, destination, { movedTo }) => stepped(movedTo ?? destination),
}
