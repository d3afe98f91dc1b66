import { computed } from 'vue'
import { useDisplay } from 'vuetify'

/** Windows from this width on show the sections at the top and rows in columns. */
const MIN_WIDE = 700

/** How much room the window has. */
export function useScreen() {
  const { width } = useDisplay()
  return { isPhone: computed(() => width.value < MIN_WIDE) }
}
