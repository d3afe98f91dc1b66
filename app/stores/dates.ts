import { defineStore } from 'pinia'
import type { DateEvent, LinkDate } from '~~/core/schemas'

/** Everything that has a date. */
const useDatesStore = defineStore('dates', {
  state: () => ({
    events: [] as DateEvent[],
    from: '',
    /** Days of the link in hand. */
    of: undefined as number | undefined,
    days: [] as LinkDate[],
  }),
  actions: {
    async load(from: string, to: string) {
      this.from = from
      const { items } = await callApi<{ items: DateEvent[] }>('/dates', { query: { from, to } })
      // Another month was asked for meanwhile.
      if (this.from === from) this.events = items
    },
    async loadDays(link: number) {
      const { items } = await callApi<{ items: LinkDate[] }>(`/links/${link}/dates`)
      Object.assign(this, { of: link, days: items })
    },
    async addDay(link: number, body: object) {
      await callApi<LinkDate>(`/links/${link}/dates`, { method: 'POST', body })
      await this.loadDays(link)
    },
    async tickOff(link: number, day: number) {
      await callApi(`/links/${link}/dates/${day}`, { method: 'DELETE' })
      await this.loadDays(link)
    },
  },
})

export { useDatesStore }
