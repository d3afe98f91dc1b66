<script setup lang="ts">
import Sortable from 'sortablejs'
import { computed, onBeforeUnmount, ref, watch } from 'vue'
import type { Domain, Rule } from '~~/core/schemas'

const { domain } = defineProps<{ domain: Domain }>()
const store = useRulesStore()
const session = useSessionStore()
const notice = useNotice()
const { conflicts, reason, told, saving, move, moveBefore, save, cancel } = useRuleOrder()
const mayChange = computed(() => session.may('administrator'))
watch(
  () => domain.host,
  (host) => store.load(host),
  { immediate: true },
)

const editing = ref(false)
const edited = ref<Rule>()
const list = ref<HTMLElement>()
/** The rule, by its number as saved, that matches the address looked up. */
const answering = ref<number | null>(null)
const answeringId = computed(() => (answering.value === null ? undefined : store.rules[answering.value - 1]?.id))
const numberOf = (id: number) => store.ordered.findIndex((rule) => rule.id === id) + 1
/** As saved: an order that is not saved has its own review. */
const findingsOf = (id: number) => (store.isMoved ? [] : store.findings.filter(({ rule }) => rule === id))
let sortable: Sortable | undefined
watch([list, mayChange], ([element, may]) => {
  sortable?.destroy()
  sortable = undefined
  if (!element || !may) return
  sortable = Sortable.create(element, {
    handle: '.handle',
    animation: 120,
    ghostClass: 'ghost',
    onEnd({ oldIndex, newIndex, item, from }) {
      if (oldIndex === undefined || newIndex === undefined || oldIndex === newIndex) return
      // The list is Vue's to order: put the element back and let the rows move it.
      from.insertBefore(item, from.children[oldIndex + (newIndex < oldIndex ? 1 : 0)] ?? null)
      void move(oldIndex, newIndex)
    },
  })
})
onBeforeUnmount(() => sortable?.destroy())

async function switchOver(rule: Rule) {
  try {
    await store.save(rule, { active: !rule.active })
    notice.tell(rule.active ? `Switched off: ${rule.pattern}` : `Switched on: ${rule.pattern}`)
  } catch (error) {
    // Switching on may bring conflicts, which the form tells in full.
    edit({ ...rule, active: !rule.active }, rule)
    notice.tell((error as Error).message)
  }
}
const shown = ref<Rule>()
function edit(rule: Rule | undefined, opened = rule) {
  edited.value = opened
  shown.value = rule
  editing.value = true
}
</script>

<template>
  <section aria-labelledby="rules-title">
    <header class="head">
      <div>
        <h2 id="rules-title">Rules</h2>
        <p class="soft">Links take precedence; otherwise the first matching rule from the top applies.</p>
      </div>
      <VSpacer />
      <VBtn v-if="mayChange" color="primary" variant="flat" @click="edit(undefined)">New rule</VBtn>
    </header>
    <VAlert v-if="store.problem" type="error" variant="tonal" density="compact" class="my-2">{{
      store.problem
    }}</VAlert>
    <RuleLookup v-if="store.rules.length > 0" :domain="domain.host" @answers="answering = $event" />
    <p v-if="store.loaded && store.rules.length === 0" class="empty soft">
      No rules yet. One rule like <code class="mono">/stop/:id</code> can serve thousands of printed addresses.
    </p>
    <ol ref="list" class="rules" aria-describedby="rules-help">
      <RuleRow
        v-for="(rule, index) in store.ordered"
        :id="`rule-${rule.id}`"
        :key="rule.id"
        :rule="rule"
        :index="index"
        :count="store.rules.length"
        :may-change="mayChange"
        :findings="findingsOf(rule.id)"
        :number-of="numberOf"
        :is-answering="rule.id === answeringId"
        @edit="edit(rule)"
        @move-before="moveBefore(rule.id, $event)"
        @move="move(index, index + $event)"
        @switch="switchOver(rule)"
      />
    </ol>
    <p v-if="mayChange && store.rules.length > 1" id="rules-help" class="soft help">
      Drag the handle, or press the arrow keys on it. What a new order changes is shown before you save it.
    </p>
    <OrderReview
      v-if="store.isMoved"
      v-model:reason="reason"
      :conflicts="conflicts"
      :saving="saving"
      @save="save"
      @cancel="cancel"
    />
    <p class="visually-hidden" role="status">{{ told }}</p>
    <LazyRuleDialog v-if="editing" v-model="editing" :rule="edited" :given="shown" :domain="domain" />
  </section>
</template>

<style scoped>
.head {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: flex-start;
  margin-bottom: 10px;
}
.rules {
  padding: 0;
  list-style: none;
}
/* Of a row, while it is dragged. */
:deep(.ghost) {
  background: rgb(var(--v-theme-tint-primary));
}
.help,
.empty {
  margin-top: 8px;
  font-size: 13px;
}
</style>
