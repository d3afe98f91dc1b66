import { defineStore } from 'pinia'
import type { Session } from '~~/core/schemas'
import { mayAct, type Role } from '~~/core/schemas/roles'

const useSessionStore = defineStore('session', {
  state: () => ({ session: undefined as Session | undefined, asked: false }),
  getters: {
    /** Whether the signed-in member may do what needs a role. */
    may: (state) => (role: Role) => state.session !== undefined && mayAct(state.session.member.role, role),
  },
  actions: {
    /** Asks the server once who is signed in. */
    async load() {
      if (this.asked) return
      this.asked = true
      this.session = await callApi<Session>('/session').catch((error) => {
        if (error instanceof ApiProblem && error.status === 401) return undefined
        this.asked = false
        throw error
      })
    },
    async signIn(email: string, password: string) {
      this.session = await callApi<Session>('/session', { method: 'POST', body: { email, password } })
      this.asked = true
    },
    async setUp(body: object) {
      this.session = await callApi<Session>('/setup', { method: 'POST', body })
      this.asked = true
    },
    async signOut() {
      await callApi('/session', { method: 'DELETE' })
      this.$reset()
      this.asked = true
    },
  },
})

export { useSessionStore }
