<script setup lang="ts">
import { mdiChevronDown, mdiChevronUp, mdiDragVertical } from '@mdi/js'
import Sortable from 'sortablejs'
import { computed, nextTick, onBeforeUnmount, ref, watch } from 'vue'
import { conditionWords } from '~~/core/conditions'
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
function keys(event: KeyboardEvent, index: number) {
  const by = { ArrowUp: -1, ArrowDown: 1 }[event.key]
  if (by === undefined || !mayChange.value) return
  event.preventDefault()
  void move(index, index + by)
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
          For whole families of addresses. A link of its own answers first; then the first rule from the top that takes
          the address.
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
      <VBtn color="primary" variant="flat" :disabled="reason.trim() === ''" @click="reorder(wanted!)"
        >Move all the same</VBtn
      >
      <VBtn @click="(clear(), (wanted = undefined))">Leave the order</VBtn>
    </div>
    <p v-if="store.loaded && store.rules.length === 0" class="empty soft">
      No rules yet. One rule like <code class="mono">/stop/:id</code> can serve thousands of printed addresses from one
      place.
    </p>
    <ol ref="list" class="rules" aria-describedby="rules-help">
      <li
        v-for="(rule, index) in store.rules"
        :id="`rule-${rule.id}`"
        :key="rule.id"
        class="rule"
        :class="{ off: !rule.active }"
      >
        <button
          v-if="mayChange"
          type="button"
          class="handle"
          :aria-label="`${rule.pattern}, number ${index + 1} of ${store.rules.length}; move with the arrow keys`"
          @keydown="keys($event, index)"
        >
          <VIcon :icon="mdiDragVertical" size="20" />
        </button>
        <span class="number soft">{{ index + 1 }}</span>
        <div class="what">
          <div class="line">
            <button type="button" class="mono pattern" @click="edit(rule)">{{ rule.pattern }}</button><span
              v-if="rule.condition.length > 0"
              class="tag"
              >if {{ conditionWords(rule.condition) }}</span
            ><span v-if="rule.syntax === 'expression'" class="tag">expression</span
            ><span v-if="!rule.active" class="tag">off</span
            ><span class="soft note">{{ [rule.title, rule.note].filter(Boolean).join(' — ') }}</span>
          </div>
          <div class="line destination">
            <RedirectChip :status="rule.status" /> <span class="mono soft to">{{ rule.destination }}</span>
          </div>
          <div v-if="rule.except.length > 0" class="soft note">
            Leaves alone:
            <span class="mono"
              >{{ rule.except.slice(0, 6).join(', ')
              }}{{ rule.except.length > 6 ? ` and ${rule.except.length - 6} more` : '' }}</span
            >
          </div>
        </div>
        <span class="hits"
          ><b>{{ rule.visits28.toLocaleString('en') }}</b
          ><span class="soft">hits, 28 days</span></span
        >
        <span v-if="mayChange" class="tools">
          <VBtn
            size="small"
            variant="text"
            :icon="mdiChevronUp"
            :disabled="index === 0"
            :aria-label="`Move ${rule.pattern} up`"
            @click="move(index, index - 1)"
          />
          <VBtn
            size="small"
            variant="text"
            :icon="mdiChevronDown"
            :disabled="index === store.rules.length - 1"
            :aria-label="`Move ${rule.pattern} down`"
            @click="move(index, index + 1)"
          />
          <VSwitch
            :model-value="rule.active"
            density="compact"
            color="primary"
            hide-details
            :aria-label="`${rule.pattern} is switched on`"
            @update:model-value="switchOver(rule)"
          />
        </span>
      </li>
    </ol>
    <p id="rules-help" class="soft help">Drag by the dots, or move the one in focus with the arrow keys.</p>
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
  max-width: 1100px;
  padding: 0;
  list-style: none;
}
.rule {
  display: flex;
  gap: 10px;
  align-items: center;
  padding: 4px 10px;
  border: 1px solid rgb(var(--v-theme-rule));
  border-bottom-width: 0;
  background: rgb(var(--v-theme-surface));
}
.rule:first-child {
  border-radius: 4px 4px 0 0;
}
.rule:last-child {
  border-bottom-width: 1px;
  border-radius: 0 0 4px 4px;
}
.ghost {
  background: rgb(var(--v-theme-tint-primary));
}
.handle {
  flex: none;
  color: rgb(var(--v-theme-soft));
  cursor: grab;
}
.number {
  flex: 0 0 22px;
  text-align: right;
}
.what {
  flex: 1 1 0;
  min-width: 0;
}
.line {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 8px;
  align-items: baseline;
}
.pattern {
  padding: 0;
  font-weight: 700;
  text-align: left;
  overflow-wrap: anywhere;
  color: rgb(var(--v-theme-primary));
}
.off .pattern {
  color: rgb(var(--v-theme-soft));
}
.to,
.note {
  font-size: 13px;
  overflow-wrap: anywhere;
}
.tag {
  padding: 0 6px;
  border: 1px solid rgb(var(--v-theme-rule));
  border-radius: 3px;
  font-size: 12px;
}
.hits {
  display: flex;
  flex: 0 0 88px;
  flex-direction: column;
  align-items: flex-end;
  font-variant-numeric: tabular-nums;
}
.hits > .soft {
  font-size: 12px;
}
.tools {
  display: flex;
  align-items: center;
}
.help,
.empty {
  margin-top: 8px;
  font-size: 13px;
}
@media (max-width: 700px) {
  .rule {
    flex-wrap: wrap;
  }
  .what {
    flex-basis: calc(100% - 80px);
  }
}
</style>
