import { defineStore } from 'pinia'
import type { Factor, Session, SignedIn } from '~~/core/schemas'
import { mayAct, type Role } from '~~/core/schemas/roles'

/** A page is not kept white for longer than this. */
const PATIENCE_MS = 4000

// What waits for somebody to sign in again.
const waiting = new Set<(signedIn: boolean) => void>()
const confirming = new Set<(confirmed: boolean) => void>()

const useSessionStore = defineStore('session', {
  state: () => ({
    session: undefined as Session | undefined,
    asked: false,
    /** Forms with something typed in them. */
    forms: 0,
    /** The session ended while a form was open; it is taken up again in place. */
    ended: false,
    /** The ways to prove who one is, while the server asks for that. */
    toConfirm: [] as Factor[],
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
    /** Signs in; gives the second factors one of which is asked for, where there are any. */
    async signIn(email: string, password: string): Promise<Factor[] | undefined> {
      return this.take(await callApi<SignedIn>('/session', { method: 'POST', body: { email, password } }))
    },
    async giveFactor(proof: object) {
      this.take(await callApi<SignedIn>('/session/factor', { method: 'POST', body: proof }))
    },
    /** Chooses a password at a one-time address and signs in by it. */
    async chooseByAddress(word: string, password: string): Promise<Factor[] | undefined> {
      return this.take(await callApi<SignedIn>('/welcome/password', { method: 'POST', body: { word, password } }))
    },
    take(answer: SignedIn): Factor[] | undefined {
      if ('needs' in answer) return answer.needs
      this.session = answer
      this.asked = true
      return undefined
    },
    /** Waits until somebody has proved once more who they are; false where they gave up. */
    confirm(needs: Factor[]): Promise<boolean> {
      this.toConfirm = needs
      return new Promise((resolve) => confirming.add(resolve))
    },
    confirmed(yes: boolean) {
      this.toConfirm = []
      for (const resolve of confirming) resolve(yes)
      confirming.clear()
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
      this.take(await callApi<SignedIn>('/setup', { method: 'POST', body }))
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
