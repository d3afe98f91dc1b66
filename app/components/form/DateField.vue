<script setup lang="ts">
import { mdiCalendarBlankOutline } from '@mdi/js'
import { computed, nextTick, ref, useTemplateRef, watch } from 'vue'
import type { DateKind } from '~~/core/time/typed-moment'

/**
 * A day or a moment, typed as people write it or chosen from the browser’s calendar. The value is `2026-11-19` or
 * `2026-11-19T06:12` in the organisation’s time zone, empty for none. Text that is not a date is passed on unchanged,
 * so that saving reports it instead of dropping it.
 */
const {
  modelValue = '',
  kind,
  past = false,
  readonly = false,
  errorMessages = '',
  hint = '',
} = defineProps<{
  modelValue?: string | null
  kind: DateKind
  /** Dates without a year are of the past. */
  past?: boolean
  readonly?: boolean
  errorMessages?: string | string[]
  hint?: string
}>()
const emit = defineEmits<{ 'update:modelValue': [value: string]; change: [] }>()
defineOptions({ inheritAttrs: false })
const { zone } = useMoments()
const EXAMPLES = { day: '19 Nov 2026, tomorrow', moment: '19 Nov 2026 06:12, tomorrow 9:00' } as const

// The date parser is large and most pages do not need it: it is loaded with the first date.
const reader = ref<typeof import('~~/core/time/typed-moment')>()
const loadReader = async () => (reader.value ??= await import('~~/core/time/typed-moment'))
const typed = ref('')
const isUsed = ref(false)
const calendar = useTemplateRef<HTMLInputElement>('calendar')

const read = computed(() =>
  reader.value?.readTypedMoment(typed.value, { kind, zone: zone(), now: new Date(), isPast: past }),
)
const fault = computed(() =>
  reader.value && typed.value.trim() && !read.value && !isUsed.value ? `Enter a date like ${EXAMPLES[kind]}.` : '',
)
/** A line is kept below the field once it has a date: what stands under it does not move when the field is left. */
const BLANK = '\u00a0'
const words = computed(() =>
  read.value ? (read.value.words === typed.value ? hint || BLANK : `= ${read.value.words}`) : hint,
)

// A value set from outside is shown as a date; typed text is left as it is.
watch(
  () => modelValue ?? '',
  async (value) => {
    if (value === (read.value?.value ?? typed.value)) return
    const shown = value && ((await loadReader()).momentWords(value, kind) || value)
    // Something may have been typed while the parser was loading.
    if (value === (modelValue ?? '')) typed.value = shown
  },
  { immediate: true },
)

async function type(text: string | null): Promise<void> {
  typed.value = text ?? ''
  const hand = () => emit('update:modelValue', read.value?.value ?? typed.value.trim())
  // If the form is submitted before the parser is loaded, it gets the typed text.
  hand()
  if (!reader.value) {
    await loadReader()
    hand()
  }
}

async function choose(value: string): Promise<void> {
  await type(value)
  leave()
  emit('change')
}

/** Enter submits a form once the parser is there: what it gets is the date, not the words typed. */
async function submitRead(event: KeyboardEvent): Promise<void> {
  const form = (event.target as HTMLInputElement).form
  if (reader.value || !form) return
  event.preventDefault()
  await type(typed.value)
  await nextTick()
  form.requestSubmit()
}

function leave(): void {
  isUsed.value = false
  if (read.value) typed.value = read.value.words
}
</script>

<template>
  <div class="date-field">
    <VTextField
      v-bind="$attrs"
      :model-value="typed"
      :readonly="readonly"
      :error-messages="fault || errorMessages"
      :hint="words"
      persistent-hint
      autocomplete="off"
      @update:model-value="type"
      @change="emit('change')"
      @keydown.enter="submitRead"
      @focus="((isUsed = true), loadReader())"
      @blur="leave"
    >
      <template v-if="!readonly" #append-inner>
        <!-- Not a tab stop: with the keyboard, dates are typed. -->
        <button type="button" class="open" tabindex="-1" aria-label="Calendar" @click="calendar?.showPicker()">
          <VIcon :icon="mdiCalendarBlankOutline" size="18" />
        </button>
      </template>
    </VTextField>
    <input
      ref="calendar"
      class="calendar"
      :type="kind === 'day' ? 'date' : 'datetime-local'"
      tabindex="-1"
      aria-hidden="true"
      :value="read?.value ?? ''"
      @change="choose(($event.target as HTMLInputElement).value)"
    />
  </div>
</template>

<style scoped>
.date-field {
  position: relative;
}
.open {
  min-width: 28px;
  min-height: 28px;
  color: rgb(var(--v-theme-soft));
}
/* The browser opens its calendar at this element. */
.calendar {
  position: absolute;
  right: 0;
  bottom: 0;
  width: 0;
  height: 0;
  overflow: hidden;
  border: 0;
  opacity: 0;
  pointer-events: none;
}
</style>
