<script setup lang="ts">
import { computed } from 'vue'
import { isPermanent, type RedirectStatus } from '~~/core/rows/redirect'

const { domain, fault = undefined } = defineProps<{ domain: string; fault?: string }>()
const status = defineModel<RedirectStatus>({ required: true })
const domains = useDomainsStore()

const span = computed(() => {
  const seconds = domains.byHost(domain)?.permanenceSeconds ?? 86_400
  const [count, unit] =
    seconds % 86_400 === 0
      ? [seconds / 86_400, 'day']
      : seconds % 3600 === 0
        ? [seconds / 3600, 'hour']
        : [seconds, 'second']
  return `${count} ${unit}${count === 1 ? '' : 's'}`
})
const types = computed((): { value: RedirectStatus; title: string; sentence: string }[] => [
  {
    value: 302,
    title: '302 temporary',
    sentence: 'Browsers ask us each time, so a new destination counts at once. The usual choice.',
  },
  { value: 307, title: '307 temporary', sentence: 'Like 302, and a form sent to the address is sent on unchanged.' },
  {
    value: 303,
    title: '303 temporary',
    sentence: 'Like 302, and whatever was sent, the browser fetches the destination as a page.',
  },
  {
    value: 301,
    title: '301 permanent',
    sentence:
      `Search engines list the destination instead, and a browser may go there without asking us for ${span.value}: ` +
      'until then it misses any change.',
  },
  {
    value: 308,
    title: '308 permanent',
    sentence: `Like 301, kept for ${span.value}, and a form sent to the address is sent on unchanged.`,
  },
])
</script>

<template>
  <fieldset class="types">
    <legend>Redirect type</legend>
    <VRadioGroup v-model="status" aria-label="Redirect type">
      <VRadio v-for="type in types" :key="type.value" :value="type.value">
        <template #label>
          <span class="label"
            ><RedirectChip :status="type.value" />{{ ' ' }}
            <span
              ><b>{{ isPermanent(type.value) ? 'Permanent' : 'Temporary' }}.</b> {{ type.sentence }}</span
            ></span
          >
        </template>
      </VRadio>
    </VRadioGroup>
    <p v-if="fault" class="text-error" role="alert">{{ fault }}</p>
  </fieldset>
</template>

<style scoped>
.types {
  border: 0;
}
legend {
  font-size: 12px;
  font-weight: 600;
  color: rgb(var(--v-theme-soft));
}
.label {
  display: flex;
  gap: 8px;
  align-items: baseline;
  padding: 2px 0;
  font-size: 13px;
  color: rgb(var(--v-theme-on-surface));
}
</style>
