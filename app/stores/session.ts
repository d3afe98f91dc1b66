import { defineStore } from 'pinia'
import type { Session } from '~~/core/schemas'
import { mayAct, type Role } from '~~/core/schemas/roles'

/** A page is not kept white for longer than this. */
const PATIENCE_MS = 4000

// What waits for somebody to sign in again.
const waiting = new Set<(signedIn: boolean) => void>()

const useSessionStore = defineStore('session', {
  state: () => ({
    session: undefined as Session | undefined,
    asked: false,
    /** Forms with something typed in them. */
    forms: 0,
    /** The session ended while a form was open; it is taken up again in place. */
    ended: false,
  }),
  getters: {
    /** Whether the signed-in member may do what needs a role. */
    may: (state) => (role: Role) => state.session !== undefined && mayAct(state.session.member.role, role),
  },
  actions: {
    /** Asks the server once who is signed in. */
    async load() {
      if (this.asked) return
      this.asked = true
      // A database that hangs takes the question and does not answer: the page then says so.
      const signal = AbortSignal.timeout(PATIENCE_MS)
      this.session = await callApi<Session>('/session', { signal }).catch((error) => {
        if (error instanceof ApiProblem && error.status === 401) return undefined
        this.asked = false
        throw error
      })
    },
    async signIn(email: string, password: string) {
      this.session = await callApi<Session>('/session', { method: 'POST', body: { email, password } })
      this.asked = true
    },
    holdForms(by: 1 | -1) {
      this.forms = Math.max(0, this.forms + by)
    },
    /** Waits until somebody has signed in again; false where they left instead. */
    async again(): Promise<boolean> {
      this.ended = true
      return new Promise((resolve) => waiting.add(resolve))
    },
    /** Goes on with what waited for a session, or gives it up. */
    goOn(signedIn: boolean) {
      this.ended = false
      for (const resolve of waiting) resolve(signedIn)
      waiting.clear()
    },
    async setUp(body: object) {
      this.session = await callApi<Session>('/setup', { method: 'POST', body })
      this.asked = true
    },
    async signOut() {
      await callApi('/session', { method: 'DELETE' })
      forgetDrafts()
      this.$reset()
      this.asked = true
    },
  },
})

export { useSessionStore }
