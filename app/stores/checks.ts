import { defineStore } from 'pinia'
import type { CheckPreview, CheckRequest, CheckRun, TargetChecks } from '~~/core/schemas'

const LOOK_MS = 700
let timer: ReturnType<typeof setTimeout> | undefined

/** Checks of destinations: those asked for and how far they are, and those of the link in hand. */
const useChecksStore = defineStore('checks', {
  state: () => ({
    run: undefined as CheckRun | undefined,
    /** The run is told until it is put away. */
    problem: '',
    of: undefined as number | undefined,
    checks: undefined as TargetChecks | undefined,
  }),
  getters: {
    running: (state) => state.run?.state === 'running',
  },
  actions: {
    /** Has destinations checked now and follows how far that is; `done` is told at the end. */
    async start(request: CheckRequest, done?: (run: CheckRun) => void) {
      this.problem = ''
      try {
        this.run = await callApi<CheckRun>('/checks', { method: 'POST', body: request })
      } catch (error) {
        this.problem = (error as Error).message
        return
      }
      this.follow(done)
    },
    follow(done?: (run: CheckRun) => void) {
      clearTimeout(timer)
      timer = setTimeout(async () => {
        const id = this.run?.id
        if (id === undefined) return
        try {
          const now = await callApi<CheckRun>(`/checks/${id}`)
          if (this.run?.id === id) this.run = now
          this.problem = ''
        } catch (error) {
          this.problem = (error as Error).message
        }
        if (this.running) this.follow(done)
        else if (this.run) done?.(this.run)
      }, LOOK_MS)
    },
    async cancel() {
      if (!this.run) return
      await callApi(`/checks/${this.run.id}`, { method: 'DELETE' })
      this.run = await callApi<CheckRun>(`/checks/${this.run.id}`)
    },
    putAway() {
      clearTimeout(timer)
      this.run = undefined
      this.problem = ''
    },
    async read(link: number) {
      if (this.of !== link) Object.assign(this, { of: link, checks: undefined })
      const checks = await callApi<TargetChecks>(`/links/${link}/checks`)
      if (this.of === link) this.checks = checks
    },
    preview: (destination: string, signal?: AbortSignal) =>
      callApi<CheckPreview>('/checks/preview', { method: 'POST', body: { destination }, signal }),
  },
})

export { useChecksStore }
