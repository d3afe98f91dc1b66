<script setup lang="ts">
import { computed } from 'vue'
import type { ConflictView } from '~~/core/schemas'
import { faultOf, useLatest } from '~/composables/useLatest'
import { ruleFields } from '~/composables/useRuleForm'
import { PREVIEW_MS } from '~/stores/rules'

/** An order of rules that is not saved yet: what it would bring, and past requests put to it. */
const { conflicts, saving } = defineProps<{ conflicts: ConflictView[]; saving: boolean }>()
const reason = defineModel<string>('reason', { required: true })
defineEmits<{ save: []; cancel: [] }>()
const store = useRulesStore()
const drafts = computed(() => store.ordered.map((rule) => ({ ...ruleFields(rule), id: rule.id })))
const asked = computed(() => ({ domain: store.domain, rules: drafts.value }))
const { answer: preview, error, busy } = useLatest(asked, store.preview, PREVIEW_MS)
const replayed = computed(() => ({
  rules: { domain: store.domain, items: store.ordered.map((rule) => ruleFields(rule)) as never },
}))
const isPlain = computed(() => preview.value?.added.length === 0 && preview.value.removed.length === 0)
</script>

<template>
  <section class="review" aria-labelledby="order-title">
    <h2 id="order-title">New order, not saved yet</h2>
    <p v-if="error" class="text-error" role="alert">{{ faultOf(error) }}</p>
    <div role="status">
      <p v-if="!preview && busy" class="soft">Comparing the rules…</p>
      <p v-else-if="isPlain" class="soft">No conflict comes or goes with it.</p>
      <ul v-else-if="preview" class="effects">
        <li v-for="conflict in preview.removed" :key="conflict.key">
          <StateMark state="sound" /> <b>Resolved: {{ conflict.headline }}.</b> {{ conflict.sentence }}
        </li>
        <li v-for="conflict in conflicts.length > 0 ? [] : preview.added" :key="conflict.key">
          <StateMark :state="conflict.severity" /> <b>New: {{ conflict.headline }}.</b> {{ conflict.sentence }}
        </li>
      </ul>
    </div>
    <ConflictNotice v-if="conflicts.length > 0" v-model:reason="reason" :conflicts="conflicts" />
    <div class="foot">
      <VBtn
        color="primary"
        variant="flat"
        :loading="saving"
        :disabled="conflicts.length > 0 && reason.trim() === ''"
        @click="$emit('save')"
        >{{ conflicts.length > 0 ? 'Save anyway' : 'Save order' }}</VBtn
      >
      <VBtn @click="$emit('cancel')">Cancel</VBtn>
    </div>
    <ReplayBox :request="replayed" of="the rules in this order" auto />
  </section>
</template>

<style scoped>
.review {
  display: flex;
  flex-direction: column;
  gap: 10px;
  margin-top: 12px;
  padding: 14px 16px;
  border: 1px solid rgb(var(--v-theme-rule));
  border-left: 3px solid rgb(var(--v-theme-primary));
  background: rgb(var(--v-theme-surface));
}
.effects {
  padding: 0;
  font-size: 13px;
  list-style: none;
}
.effects > li {
  padding: 3px 0;
  overflow-wrap: anywhere;
}
.foot {
  display: flex;
  gap: 8px;
}
</style>
