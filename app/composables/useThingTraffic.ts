import { DateTime } from 'luxon'
import { onScopeDispose, ref } from 'vue'
import type { Traffic, TrafficGroup } from '~~/core/schemas'

/** Visits of one thing, as a link or a case, over some days until now, beside the days before. */
export function useThingTraffic() {
  const told = ref<Traffic>()
  const problem = ref('')
  const { zone } = useMoments()
  let asking: AbortController | undefined
  onScopeDispose(() => asking?.abort())

  return {
    told,
    problem,
    async load(of: Record<string, string | string[]>, days: number, by?: TrafficGroup) {
      asking?.abort()
      const mine = (asking = new AbortController())
      const now = DateTime.now().setZone(zone())
      const from = now.startOf('day').minus({ days: days - 1 })
      try {
        const answer = await callApi<Traffic>('/traffic', {
          query: { ...of, from: from.toUTC().toISO(), to: now.toUTC().toISO(), by, compare: 'before', limit: '30' },
          signal: mine.signal,
        })
        if (mine.signal.aborted) return
        told.value = answer
        problem.value = ''
      } catch (error) {
        if (!mine.signal.aborted) problem.value = (error as Error).message
      }
    },
    /** Forgets a link’s visits that are kept one by one; gives how many went. */
    async forget(id: number): Promise<number | undefined> {
      try {
        return (await callApi<{ forgotten: number }>(`/links/${id}/visits`, { method: 'DELETE' })).forgotten
      } catch (error) {
        problem.value = (error as Error).message
        return undefined
      }
    },
  }
}
