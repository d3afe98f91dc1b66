import { defineStore } from 'pinia'
import type { Movers, Traffic, TrafficGroup } from '~~/core/schemas'

type Asked = Record<string, string | string[] | undefined>
// Counts the questions asked, so that an older answer never replaces a newer one.
let asking: AbortController | undefined

/** Visits as they are looked at: the figures, the hours of the week, and what changed most. */
export const useTrafficStore = defineStore('traffic', {
  state: () => ({
    told: undefined as Traffic | undefined,
    hours: undefined as Traffic | undefined,
    movers: undefined as Movers | undefined,
    /** What links are called that a filter names by their number. */
    names: {} as Record<string, string>,
    loading: false,
    problem: '',
  }),
  actions: {
    /** Asks for the figures of a view; what was asked before and is not answered yet is given up. */
    async load(asked: Asked, by: TrafficGroup, { quiet = false } = {}) {
      asking?.abort()
      const mine = (asking = new AbortController())
      this.loading = !quiet
      try {
        const [told, hours] = await Promise.all([
          callApi<Traffic>('/traffic', { query: { ...asked, by, limit: '200' }, signal: mine.signal }),
          callApi<Traffic>('/traffic', { query: { ...asked, compare: 'none', by: 'hour' }, signal: mine.signal }),
        ])
        if (mine.signal.aborted) return
        this.told = told
        this.hours = hours
        this.problem = ''
        if (by === 'link') for (const { key, label } of told.rows) this.names[key] = label
      } catch (error) {
        if (!mine.signal.aborted) this.problem = (error as Error).message
      } finally {
        if (asking === mine) this.loading = false
      }
    },
    async loadMovers() {
      try {
        this.movers = await callApi<Movers>('/traffic/movers')
      } catch {
        this.movers = undefined
      }
    },
    /** The address of a file of just what is shown. */
    async file(asked: Asked, by: TrafficGroup | undefined, type: string): Promise<Blob> {
      const query = new URLSearchParams()
      for (const [name, value] of Object.entries({ ...asked, by, limit: '1000', file: '1' }))
        for (const one of Array.isArray(value) ? value : value === undefined ? [] : [value]) query.append(name, one)
      const answer = await fetch(`/api/v1/traffic?${query}`, { headers: { accept: type } })
      if (!answer.ok) throw new Error('Export failed. Try again in a moment.')
      return answer.blob()
    },
    /** Looks a link's address up by its number. */
    async nameLink(id: string) {
      if (this.names[id] !== undefined) return
      this.names[id] = ''
      try {
        this.names[id] = (await callApi<{ address: string }>(`/links/${id}`)).address
      } catch {
        this.names[id] = `link ${id}`
      }
    },
  },
})
