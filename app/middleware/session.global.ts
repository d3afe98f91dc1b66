/** Pages that are opened by a key, or before there is anybody. */
const OPEN_PAGES = ['/set-up', '/welcome', '/stop-mails', '/handover']

/** Everything but signing in, these and what is no page needs a session. */
export default defineNuxtRouteMiddleware(async (to) => {
  if (OPEN_PAGES.includes(to.path) || to.name === 'path') return
  const session = useSessionStore()
  try {
    await session.load()
  } catch {
    return to.path === '/sign-in' ? undefined : navigateTo('/sign-in')
  }
  if (to.path === '/sign-in') return session.session ? navigateTo('/docket') : undefined
  if (!session.session) return navigateTo({ path: '/sign-in', query: to.path === '/' ? {} : { to: to.fullPath } })
})
