import { defineStore } from 'pinia'
import type { LedgerEntry, Link, LinkHolders, Placement, Proposal, SlugCheck } from '~~/core/schemas'

/** What a person decides about a link's standing. */
export type Decision = 'live' | 'paused' | 'ended' | 'retired'

/** The link in hand: read, made, changed, decided about. */
const useLinkStore = defineStore('link', {
  state: () => ({ link: undefined as Link | undefined, history: [] as LedgerEntry[] }),
  actions: {
    async read(id: number) {
      if (this.link?.id !== id) this.$reset()
      const [link, history] = await Promise.all([
        callApi<Link>(`/links/${id}`),
        callApi<{ items: LedgerEntry[] }>(`/links/${id}/history`, { query: { limit: 20 } }),
      ])
      this.link = link
      this.history = history.items
      return link
    },
    async create(body: object): Promise<Link> {
      return this.settle(await callApi<Link>('/links', { method: 'POST', body }), 'Made')
    },
    async change(id: number, version: number, body: object, done = 'Saved'): Promise<Link> {
      return this.settle(await callApi<Link>(`/links/${id}`, { method: 'PATCH', version, body }), done)
    },
    decide(link: Link, standing: Decision, resumesAt: string | null = null, reason = '') {
      const done = { live: 'Live again', paused: 'Paused', ended: 'Ended', retired: 'Retired' }[standing]
      return this.change(
        link.id,
        link.version,
        { standing, ...(standing === 'paused' && { resumesAt }), ...(reason && { reason }) },
        done,
      )
    },
    /** After a change: reads the link anew, refreshes its row, and offers to undo from the snackbar. */
    async settle(saved: Link, done: string): Promise<Link> {
      const link = await this.read(saved.id)
      void useRegisterStore().changed(link)
      const entry = this.history[0]
      useNotice().tell(
        `${done}: ${link.address}`,
        entry && entry.undoRole !== null && useSessionStore().may(entry.undoRole)
          ? () => useLedgerStore().undo(entry)
          : undefined,
      )
      return link
    },
    /** Who may still hold an old permanent answer of a link. */
    holders: (id: number) => callApi<LinkHolders>(`/links/${id}/holders`),
    /** Changes a permanent link by way of a temporary one. */
    async temporaryFirst(link: Link, destination: string) {
      const plan = await callApi<Proposal>(`/links/${link.id}/temporary-first`, {
        method: 'POST',
        body: { destination },
        version: link.version,
      })
      void useRegisterStore().changed(await this.read(link.id))
      return plan
    },
    checkSlug: (
      asked: { domain: string; slug: string; title?: string; destination?: string; link?: number },
      signal?: AbortSignal,
    ) => callApi<SlugCheck>('/slugs/check', { method: 'POST', body: asked, signal }),
    async addAlias(id: number, body: { slug: string; domain: string; reason: string }) {
      await this.settle(await callApi<Link>(`/links/${id}/aliases`, { method: 'POST', body }), 'Another slug for')
    },
    async removeAlias(id: number, alias: number) {
      await this.settle(await callApi<Link>(`/links/${id}/aliases/${alias}`, { method: 'DELETE' }), 'Took a slug from')
    },
    async addPlacement(id: number, body: object) {
      await callApi<Placement>(`/links/${id}/placements`, { method: 'POST', body })
      await this.read(id)
    },
    async removePlacement(id: number, placement: number) {
      await callApi(`/links/${id}/placements/${placement}`, { method: 'DELETE' })
      await this.read(id)
    },
    /** Links that lead to the same place as a destination. */
    async twins(destination: string, signal?: AbortSignal): Promise<Link[]> {
      return (await callApi<{ items: Link[] }>('/links', { query: { destination, limit: 3 }, signal })).items
    },
    /** Links beside this one that lead to its destination: how many, and up to three of them. */
    async othersLeadingTo({ id, destination }: Link): Promise<{ count: number; some: Link[] }> {
      const query = { destination }
      const [{ total }, { items }] = await Promise.all([
        callApi<{ total: number }>('/links/counts', { query }),
        callApi<{ items: Link[] }>('/links', { query: { ...query, limit: 4 } }),
      ])
      const some = items.filter((link) => link.id !== id)
      return { count: Math.max(0, total - 1), some: some.slice(0, 3) }
    },
    async tags(): Promise<string[]> {
      return (await callApi<{ items: { name: string }[] }>('/tags')).items.map((tag) => tag.name)
    },
  },
})

export { useLinkStore }
