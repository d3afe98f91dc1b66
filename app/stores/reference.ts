import { defineStore } from 'pinia'
import { ref } from 'vue'
import { readDocument, type ApiDocument, type ReferenceGroup } from '~/composables/reference'

/** The API as its document tells it. */
export const useReferenceStore = defineStore('reference', () => {
  const groups = ref<ReferenceGroup[]>([])
  const problem = ref('')

  async function load(): Promise<void> {
    if (groups.value.length > 0) return
    try {
      problem.value = ''
      groups.value = readDocument(await callApi<ApiDocument>('/openapi.json'), location.origin)
    } catch (error) {
      problem.value = (error as Error).message
    }
  }
  return { groups, problem, load }
})
