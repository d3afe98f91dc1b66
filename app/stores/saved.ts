import { defineStore } from 'pinia'
import type { SavedKind, SavedSet, SavedSetCreate } from '~~/core/schemas'

/** What was saved for choosing it again: one's own views, everybody's campaign parameters. */
const useSavedStore = defineStore('saved', {
  state: () => ({ sets: [] as SavedSet[], asked: false }),
  getters: {
    of: (state) => (kind: SavedKind) => state.sets.filter((set) => set.kind === kind),
  },
  actions: {
    /** Reads them once. */
    async load() {
      if (this.asked) return
      this.asked = true
      try {
        this.sets = (await callApi<{ items: SavedSet[] }>('/saved')).items
      } catch {
        // Nothing depends on them: they are asked for again next time.
        this.asked = false
      }
    },
    /** Saves one; a refusal is told and nothing changes. */
    async save(input: SavedSetCreate) {
      try {
        const saved = await callApi<SavedSet>('/saved', { method: 'POST', body: input })
        this.sets = [saved, ...this.sets.filter(({ id }) => id !== saved.id)]
      } catch (error) {
        useNotice().tell((error as Error).message)
      }
    },
    /** Removes one, for good. */
    async remove(set: SavedSet) {
      try {
        await callApi(`/saved/${set.id}`, { method: 'DELETE' })
        this.sets = this.sets.filter(({ id }) => id !== set.id)
      } catch (error) {
        useNotice().tell((error as Error).message)
      }
    },
  },
})

export { useSavedStore }
