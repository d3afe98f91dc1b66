<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue'
import type { Link } from '~~/core/schemas'
import { followFocus } from '~/composables/follow-focus'
import { stateOf } from '~/composables/link-words'

const { links, selected, picked, next, loading } = defineProps<{
  links: Link[]
  /** Numbers of those selected for doing something with them together. */
  picked: ReadonlySet<number>
  selected: number | undefined
  next: string | null
  loading: boolean
}>()
const emit = defineEmits<{ select: [link: Link]; open: [link: Link]; more: []; pick: [link: Link] }>()
const session = useSessionStore()
const body = ref<HTMLElement>()

watch(
  () => selected,
  async (id) => {
    await nextTick()
    const row = document.getElementById(`link-row-${id}`)
    row?.scrollIntoView({ block: 'nearest' })
    followFocus(body.value, row?.querySelector<HTMLElement>('.go'))
  },
)
const reached = (isIntersecting: boolean) => isIntersecting && emit('more')
/** The highest day of all rows, by which their bars are drawn. */
const highest = computed(() => Math.max(1, ...links.map((link) => Math.max(0, ...(link.daily ?? [])))))
</script>

<template>
  <div class="scroll" :aria-busy="loading">
    <table class="rows">
      <thead>
        <tr>
          <th v-if="session.may('editor')" scope="col" class="pick-column">
            <span class="visually-hidden">Select</span>
          </th>
          <th scope="col" class="mark-column"><span class="visually-hidden">State</span></th>
          <th scope="col" class="address-column">Short address</th>
          <th scope="col" class="title-column">Title</th>
          <th scope="col">Leads to</th>
          <th scope="col" class="days-column">28 days 0–{{ highest.toLocaleString('en') }}</th>
          <th scope="col" class="visits-column">Visits</th>
          <th scope="col" class="copy-column"><span class="visually-hidden">Copy</span></th>
        </tr>
      </thead>
      <tbody ref="body">
        <tr
          v-for="link in links"
          :id="`link-row-${link.id}`"
          :key="link.id"
          :class="{ selected: link.id === selected }"
          :aria-current="link.id === selected || undefined"
          @click="emit('select', link)"
          @dblclick="emit('open', link)"
        >
          <td v-if="session.may('editor')" class="pick" @click.stop>
            <label class="box"
              ><input
                type="checkbox"
                :checked="picked.has(link.id)"
                :aria-label="`Select ${link.address}`"
                @change="emit('pick', link)"
            /></label>
          </td>
          <td class="mark">
            <StateMark v-if="stateOf(link) !== 'live'" :state="stateOf(link)" />
            <span v-else :title="link.target?.sentence ?? 'Not checked yet'"
              ><StateMark :state="link.target?.confidence ?? 'idle'"
            /></span>
          </td>
          <td>
            <NuxtLink :to="`/links/${link.id}`" class="go" @click.exact.prevent="emit('select', link)"
              ><ShortAddress :address="link.address"
            /></NuxtLink>
            <div
              v-if="link.aliases?.length"
              class="old mono soft"
              :title="link.aliases.map(({ address }) => address).join('\n')"
            >
              <span aria-hidden="true">↳ </span><span class="visually-hidden">also </span
              >{{
                link.aliases
                  .slice(0, 3)
                  .map(({ slug }) => slug)
                  .join(', ')
              }}<template v-if="link.aliases.length > 3"> and {{ link.aliases.length - 3 }} more</template>
            </div>
          </td>
          <td class="title-cell" :title="link.title">{{ link.title }}</td>
          <td>
            <span class="leads"
              ><RedirectChip :status="link.status" /><LongAddress :address="link.destination" class="destination"
            /></span>
          </td>
          <td><DayBars :days="link.daily ?? []" :groups="28" :width="104" :highest="highest" /></td>
          <td class="figure">{{ link.visits28.toLocaleString('en') }}</td>
          <td class="copy-cell"><CopyButton :link="link" /></td>
        </tr>
      </tbody>
    </table>
    <p v-if="next" v-intersect="reached" class="end soft">
      <template v-if="loading">Loading…</template>
      <VBtn v-else variant="text" @click="emit('more')">Show more</VBtn>
    </p>
  </div>
</template>

<style scoped>
.scroll {
  height: 100%;
  overflow-y: auto;
}
.rows {
  width: 100%;
  border-collapse: collapse;
  table-layout: fixed;
}
th {
  position: sticky;
  z-index: 1;
  top: 0;
  height: 32px;
  padding: 0 8px;
  border-bottom: 1px solid rgb(var(--v-theme-rule));
  background: rgb(var(--v-theme-surface));
  color: rgb(var(--v-theme-soft));
  font-size: 12px;
  font-weight: 600;
  text-align: left;
}
td {
  height: 38px;
  padding: 0 8px;
  border-bottom: 1px solid rgb(var(--v-theme-rule));
  overflow: hidden;
  cursor: pointer;
}
tbody tr:hover {
  background: rgb(var(--v-theme-background));
}
tbody tr.selected {
  background: rgb(var(--v-theme-tint-primary));
}
td.mark,
td.pick,
td.copy-cell {
  padding: 0;
  text-align: center;
}
.pick-column,
.mark-column {
  width: 32px;
}
.box {
  display: flex;
  align-items: center;
  justify-content: center;
  width: 32px;
  height: 34px;
  cursor: pointer;
}
.box input {
  width: 16px;
  height: 16px;
  accent-color: rgb(var(--v-theme-primary));
}
.address-column {
  width: 27%;
}
.title-column {
  width: 18%;
}
.title-cell {
  text-overflow: ellipsis;
  white-space: nowrap;
}
.leads {
  display: flex;
  gap: 8px;
  align-items: baseline;
  min-width: 0;
}
.days-column {
  width: 124px;
}
.visits-column {
  width: 72px;
  text-align: right;
}
.copy-column {
  width: 40px;
}
.copy-cell > * {
  opacity: 0;
}
tr:hover .copy-cell > *,
tr:focus-within .copy-cell > *,
tr.selected .copy-cell > * {
  opacity: 1;
}
.destination {
  font-size: 13px;
}
.go {
  display: block;
  color: inherit;
  text-decoration: none;
  min-width: 0;
}
.old {
  padding: 0 0 3px 10px;
  overflow: hidden;
  font-size: 12px;
  line-height: 16px;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.end {
  padding: 8px 14px;
}
.figure {
  text-align: right;
  font-variant-numeric: tabular-nums;
}
@container list (max-width: 860px) {
  .title-column,
  .title-cell {
    display: none;
  }
  .address-column {
    width: 36%;
  }
}
@container list (max-width: 640px) {
  .days-column,
  td:has(> [role='img']) {
    display: none;
  }
}
</style>
