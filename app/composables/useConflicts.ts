import { ref } from 'vue'
import type { ConflictView } from '~~/core/schemas'

/** Conflicts a save was refused for, and the reason that would let it through. */
export function useConflicts() {
  const conflicts = ref<ConflictView[]>([])
  const reason = ref('')
  return {
    conflicts,
    reason,
    clear() {
      conflicts.value = []
    },
    /** Takes a refusal in that a reason would lift; false where it is about something else. */
    take(error: unknown): boolean {
      if (!(error instanceof ApiProblem) || !Array.isArray(error.problem.conflicts)) return false
      // A redirect loop, and a slug that only an administrator may except, are not let through by a reason:
      // they are told at their field.
      const excusable = error.problem.status === 409
      conflicts.value = excusable ? (error.problem.conflicts as ConflictView[]) : []
      return excusable
    },
  }
}
