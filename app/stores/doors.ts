import { startAuthentication, startRegistration } from '@simplewebauthn/browser'
import { defineStore } from 'pinia'
import type { Doors, OneTimeAddress } from '~~/core/schemas'

type Codes = { recoveryCodes: string[] }

/** Has one of the member's passkeys sign; what comes of it is sent on as the proof. */
export async function signWithPasskey(): Promise<object> {
  const options = await callApi<Parameters<typeof startAuthentication>[0]['optionsJSON']>('/session/passkey', {
    method: 'POST',
  })
  return startAuthentication({ optionsJSON: options })
}

/** Whether this desk's address can have passkeys at all: a name can, an IP address cannot (WebAuthn §5.1.2). */
export const passkeysPossible = (): boolean =>
  'PublicKeyCredential' in globalThis && !/^[\d.]+$|:/.test(location.hostname)

export const useDoorsStore = defineStore('doors', {
  state: () => ({
    doors: undefined as Doors | undefined,
    /** Recovery codes just made, which are told this once. */
    recoveryCodes: [] as string[],
  }),
  actions: {
    async load() {
      this.doors = await callApi<Doors>('/account')
    },
    /** Does something and reads anew what guards the account. */
    async change<Answer>(path: string, method: 'POST' | 'DELETE', body?: object): Promise<Answer> {
      const answer = await callApi<Answer>(path, { method, body })
      // Before anything that shows them changes its place.
      const { recoveryCodes = [] } = (answer ?? {}) as Partial<Codes>
      if (recoveryCodes.length > 0) this.recoveryCodes = recoveryCodes
      await this.load()
      return answer
    },
    changePassword(present: string, password: string) {
      return this.change('/account/password', 'POST', { present, password })
    },
    endSession(id: number) {
      return this.change(`/account/sessions/${id}`, 'DELETE')
    },
    async addPasskey(name: string): Promise<void> {
      const options = await callApi<Parameters<typeof startRegistration>[0]['optionsJSON']>('/account/passkeys/offer', {
        method: 'POST',
      })
      const credential = await startRegistration({ optionsJSON: options })
      await this.change<Codes>('/account/passkeys', 'POST', { name, credential })
    },
    removePasskey(id: number) {
      return this.change(`/account/passkeys/${id}`, 'DELETE')
    },
    offerCode: () => callApi<{ secret: string; address: string }>('/account/code/offer', { method: 'POST' }),
    addCode(code: string) {
      return this.change<Codes>('/account/code', 'POST', { code })
    },
    removeCode() {
      return this.change('/account/code', 'DELETE')
    },
    makeRecoveryCodes() {
      return this.change<Codes>('/account/recovery-codes', 'POST')
    },
    greet: (word: string) => callApi<{ name: string; email: string }>('/welcome', { method: 'POST', body: { word } }),
    readdress: (id: number) => callApi<OneTimeAddress>(`/members/${id}/address`, { method: 'POST' }),
    takeFactors: (id: number) => callApi(`/members/${id}/factors`, { method: 'DELETE' }),
  },
})
