<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { faultOf, useLatest } from '~/composables/useLatest'
import { listed } from '~~/core/text/listed'

/** A field for an address: which rule of a domain matches it. Gives that rule's number. */
const { domain } = defineProps<{ domain: string }>()
const emit = defineEmits<{ answers: [number: number | null] }>()
const store = useRulesStore()
const address = ref('')
/** The saved rules answer, in their saved order; they are asked anew when they change. */
const asked = computed(() =>
  address.value.trim() === ''
    ? undefined
    : {
        domain,
        addresses: [address.value.trim()],
        acceptLanguage: '',
        stand: store.rules.map(({ id, version }) => `${id} ${version}`),
      },
)
const { answer, error } = useLatest(asked, ({ stand: _stand, ...test }, signal) => store.test(test, signal), 250)
const found = computed(() => answer.value?.items[0])
watch(found, (now) => emit('answers', now?.rule ?? null))
const MAX_LATER = 5
const later = computed(() => {
  const numbers = found.value?.later ?? []
  if (numbers.length === 0) return ''
  const rules = listed([
    ...numbers.slice(0, MAX_LATER).map(String),
    ...(numbers.length > MAX_LATER ? [`${numbers.length - MAX_LATER} more`] : []),
  ])
  return numbers.length === 1
    ? `Rule ${rules} matches too, but comes later.`
    : `Rules ${rules} match too, but come later.`
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
      <span v-if="error" class="text-error">{{ faultOf(error) }}</span>
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
