<script setup lang="ts">
import { computed } from 'vue'
import { durationWords } from '~~/core/time/typed-duration'
import { isPermanent, type RedirectStatus } from '~~/core/rows/redirect-status'

const { domain, fault = undefined } = defineProps<{ domain: string; fault?: string }>()
const status = defineModel<RedirectStatus>({ required: true })
const domains = useDomainsStore()

const span = computed(() => durationWords(domains.byHost(domain)?.permanenceSeconds ?? 86_400))
const types = computed((): { value: RedirectStatus; title: string; sentence: string }[] => [
  {
    value: 302,
    title: '302 temporary',
    sentence:
      'Browsers request the short address each time, so a new destination takes effect immediately. The default.',
  },
  { value: 307, title: '307 temporary', sentence: 'Like 302; a form sent to the address is passed on unchanged.' },
  {
    value: 303,
    title: '303 temporary',
    sentence: 'Like 302; whatever was sent, the browser requests the destination as a page.',
  },
  {
    value: 301,
    title: '301 permanent',
    sentence:
      `Search engines list the destination instead. A browser may keep the redirect for ${span.value} and misses ` +
      'changes until then.',
  },
  {
    value: 308,
    title: '308 permanent',
    sentence: `Like 301, kept for ${span.value}; a form sent to the address is passed on unchanged.`,
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
