import { defineStore } from 'pinia'
import type { Member, OneTimeAddress, Settings, Token } from '~~/core/schemas'

const useSettingsStore = defineStore('settings', {
  state: () => ({
    members: [] as Member[],
    tokens: [] as Token[],
    allTokens: [] as Token[],
    invited: undefined as OneTimeAddress | undefined,
  }),
  actions: {
    loadSettings: () => callApi<Settings>('/settings'),
    changeSettings: (_settings: Settings, version: number, body: object) =>
      callApi<Settings>('/settings', { method: 'PATCH', version, body }),
    async loadMembers() {
      this.members = (await callApi<{ items: Member[] }>('/members')).items
    },
    async addMember(body: object): Promise<Member> {
      const { address, ...made } = await callApi<Member & { address: OneTimeAddress }>('/members', {
        method: 'POST',
        body,
      })
      this.invited = address
      await this.loadMembers()
      return made
    },
    async changeMember(id: number, version: number, body: object): Promise<Member> {
      const saved = await callApi<Member>(`/members/${id}`, { method: 'PATCH', version, body })
      this.members = this.members.map((member) => (member.id === id ? saved : member))
      return saved
    },
    async loadTokens() {
      this.tokens = (await callApi<{ items: Token[] }>('/tokens')).items
      if (useSessionStore().may('administrator'))
        this.allTokens = (await callApi<{ items: Token[] }>('/tokens/all')).items
    },
    /** Makes a token; returns its secret, which is never told again. */
    async addToken(body: object): Promise<string> {
      const { secret } = await callApi<Token & { secret: string }>('/tokens', { method: 'POST', body })
      await this.loadTokens()
      return secret
    },
    async revokeToken(token: Token) {
      await callApi(`/tokens/${token.id}`, { method: 'DELETE' })
      await this.loadTokens()
    },
  },
})

export { useSettingsStore }
