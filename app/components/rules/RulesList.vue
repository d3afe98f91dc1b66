<script setup lang="ts">
import Sortable from 'sortablejs'
import { computed, nextTick, onBeforeUnmount, ref, watch } from 'vue'
import type { Domain, Rule } from '~~/core/schemas'

const { domain } = defineProps<{ domain: Domain }>()
const store = useRulesStore()
const session = useSessionStore()
const notice = useNotice()
const { conflicts, reason, clear, take } = useConflicts()
const mayChange = computed(() => session.may('administrator'))
watch(
  () => domain.host,
  (host) => store.load(host),
  { immediate: true },
)

const editing = ref(false)
const edited = ref<Rule>()
const list = ref<HTMLElement>()
const live = ref('')
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

const wanted = ref<number[]>()
async function move(from: number, to: number) {
  if (to < 0 || to >= store.rules.length) return
  const order = store.rules.map((rule) => rule.id)
  const [id] = order.splice(from, 1)
  order.splice(to, 0, id!)
  await reorder(order, id!, to)
}
async function reorder(order: number[], id?: number, to?: number) {
  try {
    await store.reorder(order, reason.value)
    wanted.value = undefined
    clear()
    reason.value = ''
    if (id !== undefined) {
      live.value = `${store.rules[to!]!.pattern} is number ${to! + 1} of ${store.rules.length} now.`
      await nextTick()
      document.querySelector<HTMLElement>(`#rule-${id} .handle`)?.focus()
    }
  } catch (error) {
    if (take(error)) wanted.value = order
    else notice.tell((error as Error).message)
  }
}
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
        <p class="soft">
          Redirect many addresses by pattern. Links take precedence; then the first matching rule applies.
        </p>
      </div>
      <VSpacer />
      <VBtn v-if="mayChange" color="primary" variant="flat" @click="edit(undefined)">New rule</VBtn>
    </header>
    <VAlert v-if="store.problem" type="error" variant="tonal" density="compact" class="my-2">{{
      store.problem
    }}</VAlert>
    <ConflictNotice v-if="conflicts.length > 0 && wanted" v-model:reason="reason" :conflicts="conflicts" />
    <div v-if="conflicts.length > 0 && wanted" class="d-flex ga-2 my-2">
      <VBtn color="primary" variant="flat" :disabled="reason.trim() === ''" @click="reorder(wanted!)">Move anyway</VBtn>
      <VBtn @click="(clear(), (wanted = undefined))">Cancel</VBtn>
    </div>
    <p v-if="store.loaded && store.rules.length === 0" class="empty soft">
      No rules yet. One rule like <code class="mono">/stop/:id</code> can serve thousands of printed addresses.
    </p>
    <ol ref="list" class="rules" aria-describedby="rules-help">
      <RuleRow
        v-for="(rule, index) in store.rules"
        :id="`rule-${rule.id}`"
        :key="rule.id"
        :rule="rule"
        :index="index"
        :count="store.rules.length"
        :may-change="mayChange"
        @edit="edit(rule)"
        @move="move(index, index + $event)"
        @switch="switchOver(rule)"
      />
    </ol>
    <p id="rules-help" class="soft help">Drag the handle, or press the arrow keys on a focused rule.</p>
    <p class="visually-hidden" role="status">{{ live }}</p>
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
