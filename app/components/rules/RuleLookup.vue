<script setup lang="ts">
import { refDebounced } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import type { PatternTested } from '~~/core/schemas'

/** A field for an address: which rule of a domain matches it. Gives that rule's number. */
const { domain } = defineProps<{ domain: string }>()
const emit = defineEmits<{ answers: [number: number | null] }>()
const store = useRulesStore()
const address = ref('')
const asked = refDebounced(
  computed(() => address.value.trim()),
  250,
)
const found = ref<PatternTested['items'][number]>()
const problem = ref('')
let asking: AbortController | undefined
watch([asked, () => store.rules], async ([now]) => {
  asking?.abort()
  const own = (asking = new AbortController())
  problem.value = ''
  found.value = undefined
  emit('answers', null)
  if (now === '') return
  try {
    // The saved rules answer, in their saved order.
    const { items } = await store.test({ domain, addresses: [now], acceptLanguage: '' }, own.signal)
    if (own.signal.aborted) return
    found.value = items[0]
    emit('answers', items[0]?.rule ?? null)
  } catch (error) {
    if (!own.signal.aborted) problem.value = (error as Error).message
  }
})
const later = computed(() => {
  const numbers = found.value?.later ?? []
  if (numbers.length === 0) return ''
  return `${numbers.length === 1 ? 'Rule' : 'Rules'} ${numbers.slice(0, 5).join(', ')}${
    numbers.length > 5 ? ` and ${numbers.length - 5} more` : ''
  } ${numbers.length === 1 ? 'matches' : 'match'} too, but ${numbers.length === 1 ? 'comes' : 'come'} later.`
})
</script>

<template>
  <div class="lookup">
    <VTextField
      v-model="address"
      class="mono field"
      label="Which rule matches an address?"
      :placeholder="`${domain}/…`"
      autocomplete="off"
      autocapitalize="off"
      spellcheck="false"
      hide-details
    />
    <p class="told" role="status">
      <span v-if="problem" class="text-error">{{ problem }}</span>
      <template v-else-if="found">
        <b v-if="found.by === 'rule'">Rule {{ found.rule }}</b
        ><b v-else-if="found.by === 'link'">Link {{ found.link }}</b
        ><b v-else-if="found.by === 'forgiveness'">Tolerant matching: {{ found.link ?? `rule ${found.rule}` }}</b
        ><span v-else>{{ found.sentence }}</span
        ><span v-if="found.location" class="mono soft to"> → {{ found.location }}</span
        ><span v-if="found.by !== 'none' && later" class="soft"> · {{ later }}</span>
      </template>
    </p>
  </div>
</template>

<style scoped>
.lookup {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 16px;
  align-items: flex-end;
  margin-bottom: 10px;
}
.field {
  flex: 0 1 380px;
}
.told {
  flex: 1 1 260px;
  min-width: 0;
  min-height: 24px;
  padding-bottom: 4px;
  font-size: 13px;
}
.to {
  overflow-wrap: anywhere;
}
</style>
