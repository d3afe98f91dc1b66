import { ref } from 'vue'
import type { ConflictTold } from '~~/core/schemas'

/** Conflicts a save was refused for, and the reason that would let it through. */
export function useConflicts() {
  const conflicts = ref<ConflictTold[]>([])
  const reason = ref('')
  return {
    conflicts,
    reason,
    clear() {
      conflicts.value = []
    },
    /** Takes a refusal in; false where it is about something else. */
    take(error: unknown): boolean {
      if (!(error instanceof ApiProblem) || !Array.isArray(error.problem.conflicts)) return false
      conflicts.value = error.problem.conflicts as ConflictTold[]
      return true
    },
  }
}
