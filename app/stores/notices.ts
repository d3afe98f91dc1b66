import { defineStore } from 'pinia'
import type { DeliveryView, FeedAddress, MailView, NoticeSettingsView, WebhookView } from '~~/core/schemas'

/** What members and other programs are told. */
const useNoticesStore = defineStore('notices', {
  state: () => ({
    mails: [] as MailView[],
    feeds: [] as FeedAddress[],
    webhooks: [] as WebhookView[],
    deliveries: [] as DeliveryView[],
    /** The webhook whose deliveries are shown. */
    of: undefined as number | undefined,
    next: null as string | null,
  }),
  actions: {
    loadSettings: () => callApi<NoticeSettingsView>('/account/notices'),
    changeSettings: (version: number, body: object) =>
      callApi<NoticeSettingsView>('/account/notices', { method: 'PATCH', version, body }),
    async loadMails() {
      this.mails = (await callApi<{ items: MailView[] }>('/account/mails')).items
    },
    async sendTrial() {
      await callApi('/account/mails', { method: 'POST' })
      await this.loadMails()
    },
    async loadFeeds() {
      this.feeds = (await callApi<{ items: FeedAddress[] }>('/account/feeds')).items
    },
    async makeFeed(kind: FeedAddress['kind']): Promise<FeedAddress> {
      const made = await callApi<FeedAddress>('/account/feeds', { method: 'POST', body: { kind } })
      await this.loadFeeds()
      return made
    },
    async dropFeed(kind: FeedAddress['kind']) {
      await callApi('/account/feeds', { method: 'DELETE', query: { kind } })
      await this.loadFeeds()
    },
    stopMails: (key: string) =>
      callApi('/stop-mails', {
        method: 'POST',
        query: { key },
        type: 'application/x-www-form-urlencoded',
        body: 'List-Unsubscribe=One-Click',
      }),
    async loadWebhooks() {
      this.webhooks = (await callApi<{ items: WebhookView[] }>('/webhooks')).items
    },
    /** Makes a webhook; gives the secret its messages are signed with, which is never told again. */
    async addWebhook(body: object): Promise<string> {
      const { secret } = await callApi<WebhookView & { secret: string }>('/webhooks', { method: 'POST', body })
      await this.loadWebhooks()
      return secret
    },
    async changeWebhook({ id, version }: WebhookView, body: object) {
      await callApi(`/webhooks/${id}`, { method: 'PATCH', version, body })
      await this.loadWebhooks()
    },
    async removeWebhook({ id }: WebhookView) {
      await callApi(`/webhooks/${id}`, { method: 'DELETE' })
      if (this.of === id) this.of = undefined
      await this.loadWebhooks()
    },
    async tryWebhook({ id }: WebhookView) {
      await callApi(`/webhooks/${id}/trial`, { method: 'POST' })
      await this.loadDeliveries(id)
    },
    async loadDeliveries(id: number, more = false) {
      const cursor = more && this.of === id ? this.next : null
      const page = await callApi<{ items: DeliveryView[]; next: string | null }>(`/webhooks/${id}/deliveries`, {
        query: cursor === null ? {} : { cursor },
      })
      this.deliveries = cursor === null ? page.items : [...this.deliveries, ...page.items]
      this.next = page.next
      this.of = id
    },
    async redeliver(delivery: DeliveryView) {
      await callApi(`/webhooks/${this.of}/deliveries/${delivery.id}`, { method: 'POST' })
      await this.loadDeliveries(this.of!)
    },
  },
})

export { useNoticesStore }
