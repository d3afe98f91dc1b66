import { refusalWords } from '../../core/people/sign-in-refusals'
import { callerOf } from '../http/caller'
import { useDatabase } from '../http/context'
import { isTrustworthyOrigin } from '../http/secure-origin'
import { readActor, takeTyped } from '../http/session'

const ROOT = /(<div id="__nuxt"[^>]*>)(<\/div>)/
const SCRIPTS = /<script\b[\s\S]*?<\/script>/g

const escaped = (text: string) => text.replace(/[&<>"]/g, (sign) => `&#${sign.charCodeAt(0)};`)

/** The sign-in form, which needs no script. */
const formFor = (
  goal: string,
  refusal: string,
  email: string,
) => `<main><form class="early" method="post" action="/sign-in">
<h1>Fides</h1><p>Keeps every short address working.</p>
${refusal && `<p class="refusal" role="alert">${escaped(refusal)}</p>`}
<label>E-mail address<input name="email" type="email" autocomplete="username" required
  ${email ? `value="${escaped(email)}"` : 'autofocus'}></label>
<label>Password<input name="password" type="password" autocomplete="current-password" required
  ${email && 'autofocus'}></label>
<input type="hidden" name="to" value="${escaped(goal)}">
<button>Sign in</button></form></main>`

/**
 * Signing in works from the first moment: the sign-in page is a plain form without any script, and the desk's scripts
 * are fetched meanwhile. Not where a second factor is asked for, which needs them; nor over plain http, where browsers
 * do not keep the session: there the desk says so, and nobody is asked for a password.
 */
export default defineNitroPlugin((nitro) => {
  nitro.hooks.hook('render:html', async (html, { event }) => {
    const [path, query = ''] = event.path.split('?', 2)
    const asked = new URLSearchParams(query)
    if (path !== '/sign-in' || asked.has('needs') || !isTrustworthyOrigin(callerOf(event).origin)) return
    // The desk's own page sends on a person who is signed in. Without the database, the form is shown.
    if (await readActor(useDatabase(), event).catch(() => undefined)) return
    const form = formFor(asked.get('to') ?? '', refusalWords(asked.get('refused')), takeTyped(event))
    html.body = html.body.map((part) =>
      part.replace(ROOT, (_whole, start: string, end: string) => start + form + end).replace(SCRIPTS, ''),
    )
    for (const name of ['head', 'bodyPrepend', 'bodyAppend'] as const)
      html[name] = html[name].map((part) => part.replace(SCRIPTS, ''))
    html.head.unshift('<title>Sign in · Fides</title>')
  })
})
