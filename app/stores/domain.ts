import { defineStore } from 'pinia'
import type {
  CertificateView,
  Domain,
  DomainSections,
  ForecastView,
  Handover,
  HandoverPage,
  LookupView,
  ObservationsView,
  OldPaths,
  PlanView,
  PushView,
  ZoneView,
} from '~~/core/schemas'

interface State {
  domain: Domain | undefined
  plan: PlanView | undefined
  observations: ObservationsView | undefined
  forecast: ForecastView | undefined
  certificate: CertificateView | undefined
  /** What each section of its page is about, in a few words. */
  sections: DomainSections['items']
  problem: string
}

// The domain asked for last, so that an older answer never shows under another's name.
let wanted = 0

const useDomainStore = defineStore('domain', {
  state: (): State => ({
    domain: undefined,
    plan: undefined,
    observations: undefined,
    forecast: undefined,
    certificate: undefined,
    sections: [],
    problem: '',
  }),
  actions: {
    /** Reads all that is shown of a domain's records; keeps what is shown where the server does not answer. */
    async read(id: number) {
      if (this.domain?.id !== id) this.$reset()
      wanted = id
      try {
        const [domain, plan, observations, forecast] = await Promise.all([
          callApi<Domain>(`/domains/${id}`),
          callApi<PlanView>(`/domains/${id}/plan`),
          callApi<ObservationsView>(`/domains/${id}/observations`),
          callApi<ForecastView>(`/domains/${id}/forecast`),
        ])
        if (wanted === id) this.$patch({ domain, plan, observations, forecast, problem: '' })
      } catch (error) {
        if (wanted === id) this.problem = (error as Error).message
      }
    },
    async readSections(id: number) {
      const { items } = await callApi<DomainSections>(`/domains/${id}/sections`)
      if (wanted === id) this.sections = items
    },
    async readCertificate(id: number) {
      this.certificate = await callApi<CertificateView>(`/domains/${id}/certificate`)
    },
    /** Has everyone asked at once. */
    async check(id: number) {
      await callApi(`/domains/${id}/check`, { method: 'POST' })
    },
    /** Saves fields of the domain as it stood at a version. */
    async save(version: number, patch: Partial<Domain>): Promise<Domain> {
      const saved = await callApi<Domain>(`/domains/${this.domain!.id}`, { method: 'PATCH', version, body: patch })
      this.domain = { ...this.domain!, ...saved }
      void useDomainsStore().load()
      return this.domain
    },
    readHandover: (id: number) => callApi<Handover>(`/domains/${id}/handover`),
    /** What the person who keeps the zone is shown, without a session. */
    readHandoverPage: (key: string) => callApi<HandoverPage>('/handover', { query: { key } }),
    /** Removes the domain shown, which was never used. */
    async remove() {
      const { id, version } = this.domain!
      await callApi(`/domains/${id}`, { method: 'DELETE', version })
      await useDomainsStore().load()
    },
    async bringZone(id: number, zone: string | Blob): Promise<ZoneView> {
      return this.afterZone(
        id,
        await callApi<ZoneView>(`/domains/${id}/zone`, { method: 'PUT', body: zone, type: 'text/dns' }),
      )
    },
    async transferZone(id: number, server: string | undefined): Promise<ZoneView> {
      return this.afterZone(
        id,
        await callApi<ZoneView>(`/domains/${id}/zone/transfer`, {
          method: 'POST',
          body: { ...(server && { server }) },
        }),
      )
    },
    async askForZone(id: number): Promise<ZoneView> {
      return this.afterZone(id, await callApi<ZoneView>(`/domains/${id}/zone/ask`, { method: 'POST' }))
    },
    async afterZone(id: number, answer: ZoneView): Promise<ZoneView> {
      await this.read(id)
      return answer
    },
    zoneText: (id: number, which: 'before' | 'after') => callApi<string>(`/domains/${id}/zone/${which}`),
    lookUp: (id: number, name: string, type: string) =>
      callApi<LookupView>(`/domains/${id}/zone/lookup`, { method: 'POST', body: { name, type } }),
    async setKey(id: number, key: { server: string; name: string; secret: string }) {
      await callApi(`/domains/${id}/key`, { method: 'PUT', body: key })
      await this.read(id)
    },
    async removeKey(id: number) {
      await callApi(`/domains/${id}/key`, { method: 'DELETE' })
      await this.read(id)
    },
    async push(id: number, step?: string): Promise<PushView> {
      const answer = await callApi<PushView>(`/domains/${id}/push`, { method: 'POST', body: { ...(step && { step }) } })
      await this.read(id)
      return answer
    },
    /** Opens the domain; returns how many links went live. */
    async open(id: number, anyway: boolean): Promise<number> {
      const { live } = await callApi<{ domain: Domain; live: number }>(`/domains/${id}/open`, {
        method: 'POST',
        body: { anyway },
      })
      await Promise.all([this.read(id), useDomainsStore().load()])
      return live
    },
    readOldPaths: (id: number, log: string | Blob, to: string) =>
      callApi<OldPaths>(`/domains/${id}/old-paths`, { method: 'POST', body: log, type: 'text/plain', query: { to } }),
  },
})

export { useDomainStore }
