import { defineEventHandler, sendRedirect, setResponseHeader } from 'h3'
import { localGoal } from '../../core/address/local-goal'
import type { SignInRefusal } from '../../core/people/sign-in-refusals'
import { signIn as signInForm } from '../../core/schemas'
import { readText } from '../http/body'
import { callerOf, isSameOrigin } from '../http/caller'
import { useDatabase } from '../http/context'
import { asProblem } from '../http/problem-details'
import { keepTyped, startSession } from '../http/session'
import { onBehalfOf } from '../threads/asker'
import { checked } from '../usecases/checked'
import { signIn } from '../usecases/people/sign-in'
import { Problem } from '../usecases/problem'

const FORM = { types: ['application/x-www-form-urlencoded'], most: 16_384 }

/**
 * The sign-in form of the plain page. Redirects to where the person was going; back to the form if it is refused, or if
 * a second factor is needed.
 */
export default defineEventHandler(async (event) => {
  setResponseHeader(event, 'Cache-Control', 'no-store')
  const { peer } = callerOf(event)
  const asker = { key: `peer ${peer}`, signal: new AbortController().signal }
  let goal = '/register'
  let typed = ''
  const again = (query: Record<string, string>) =>
    sendRedirect(event, `/sign-in?${new URLSearchParams({ ...query, to: goal }).toString()}`, 303)
  try {
    if (!isSameOrigin(event)) throw new Problem(403, 'Not allowed', 'This form was not sent by a page of this desk.')
    const body = await onBehalfOf(asker, () => readText(event, FORM))
    if (body.length > FORM.most) throw new Problem(413, 'Too large', 'The form is too large.')
    const fields = new URLSearchParams(body.toString())
    goal = localGoal(fields.get('to'))
    typed = fields.get('email') ?? ''
    const { email, password } = checked(signInForm, {
      email: fields.get('email'),
      password: fields.get('password'),
    })
    const db = useDatabase()
    const answer = await startSession(db, event, await signIn(db, email, password, callerOf(event)))
    return await ('needs' in answer ? again({ needs: answer.needs.join(' ') }) : sendRedirect(event, goal, 303))
  } catch (error) {
    keepTyped(event, typed)
    return again({ refused: refusalOf(asProblem(error).status) })
  }
})

const refusalOf = (status: number): SignInRefusal =>
  status === 429 ? 'limited' : status >= 500 ? 'later' : status === 403 ? 'origin' : 'wrong'
