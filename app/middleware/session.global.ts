/** Everything but signing in, setting up, one-time addresses and what is no page needs a session. */
export default defineNuxtRouteMiddleware(async (to) => {
  if (to.path === '/set-up' || to.path === '/welcome' || to.path === '/stop-mails' || to.name === 'path') return
  const session = useSessionStore()
  try {
    await session.load()
  } catch {
    return to.path === '/sign-in' ? undefined : navigateTo('/sign-in')
  }
  if (to.path === '/sign-in') return session.session ? navigateTo('/docket') : undefined
  if (!session.session) return navigateTo({ path: '/sign-in', query: to.path === '/' ? {} : { to: to.fullPath } })
})
