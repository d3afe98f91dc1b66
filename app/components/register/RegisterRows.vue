<script setup lang="ts">
import { nextTick, watch } from 'vue'
import type { Link } from '~~/core/schemas'

const { links, selected, picked, next, loading } = defineProps<{
  links: Link[]
  /** Numbers of those picked out for doing something with them together. */
  picked: ReadonlySet<number>
  selected: number | undefined
  next: string | null
  loading: boolean
}>()
const emit = defineEmits<{ select: [link: Link]; open: [link: Link]; more: []; pick: [link: Link] }>()
const session = useSessionStore()

watch(
  () => selected,
  async (id) => {
    await nextTick()
    document.getElementById(`link-row-${id}`)?.scrollIntoView({ block: 'nearest' })
  },
)
const stateOf = (link: Link) => (link.waiting && link.standing === 'live' ? 'waiting' : link.standing)
const reached = (isIntersecting: boolean) => isIntersecting && emit('more')
</script>

<template>
  <VTable class="rows" density="compact" fixed-header hover :aria-busy="loading">
    <thead>
      <tr>
        <th v-if="session.may('editor')" scope="col" class="pick-column">
          <span class="visually-hidden">Select</span>
        </th>
        <th scope="col" class="mark-column"><span class="visually-hidden">Standing</span></th>
        <th scope="col" class="address-column">Short address</th>
        <th scope="col" class="chip-column"><span class="visually-hidden">Redirect</span></th>
        <th scope="col" class="target-column"><span class="visually-hidden">Target</span></th>
        <th scope="col" class="wide">Destination</th>
        <th scope="col" class="wide days-column">28 days</th>
        <th scope="col" class="text-right visits-column">Visits</th>
      </tr>
    </thead>
    <tbody>
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
          <input
            type="checkbox"
            :checked="picked.has(link.id)"
            :aria-label="`Select ${link.address}`"
            @change="emit('pick', link)"
          />
        </td>
        <td class="mark"><StateMark :state="stateOf(link)" /></td>
        <td>
          <NuxtLink :to="`/links/${link.id}`" class="go" @click.exact.prevent="emit('select', link)"
            ><ShortAddress :address="link.address"
          /></NuxtLink>
          <div
            v-for="old in link.aliases?.slice(0, 3)"
            :key="old.id"
            class="old mono"
            :title="`${old.address}, ${old.visits28.toLocaleString('en')} visits in 28 days`"
          >
            <span aria-hidden="true" class="soft">↳ </span><span class="visually-hidden">also </span>{{ old.slug }}
          </div>
          <div v-if="(link.aliases?.length ?? 0) > 3" class="old soft">and {{ link.aliases!.length - 3 }} more</div>
        </td>
        <td><RedirectChip :status="link.status" /></td>
        <td class="mark target" :title="link.target?.sentence ?? 'Not checked yet'">
          <StateMark :state="link.target?.confidence ?? 'idle'" />
        </td>
        <td class="wide"><LongAddress :address="link.destination" class="destination" /></td>
        <td class="wide"><DayBars :days="link.daily ?? []" :groups="7" /></td>
        <td class="text-right figure">{{ link.visits28.toLocaleString('en') }}</td>
      </tr>
      <tr v-if="next" v-intersect="reached">
        <td colspan="8" class="soft">
          {{ loading ? 'Reading more…' : ''
          }}<VBtn v-if="!loading" variant="text" @click="emit('more')">Show more</VBtn>
        </td>
      </tr>
    </tbody>
  </VTable>
</template>

<style scoped>
.rows {
  height: 100%;
  background: transparent;
}
.rows :deep(.v-table__wrapper) {
  height: 100%;
}
.rows :deep(table) {
  table-layout: fixed;
}
.rows :deep(th) {
  height: 32px !important;
  padding: 0 8px !important;
  font-size: 12px;
  font-weight: 600 !important;
  color: rgb(var(--v-theme-soft)) !important;
  background: rgb(var(--v-theme-surface)) !important;
}
.rows :deep(td) {
  height: 38px !important;
  padding: 0 8px !important;
  font-size: 14px;
  cursor: pointer;
  overflow: hidden;
}
.mark {
  text-align: center;
}
.mark-column {
  width: 30px;
}
.target-column {
  width: 26px;
}
.rows :deep(td.target),
.rows :deep(td.mark),
.rows :deep(td.pick) {
  padding: 0 2px !important;
}
.pick {
  text-align: center;
}
.pick-column {
  width: 30px;
}
.pick input {
  accent-color: rgb(var(--v-theme-primary));
}
.address-column {
  width: 36%;
}
.chip-column {
  width: 50px;
}
.days-column {
  width: 84px;
}
.visits-column {
  width: 74px;
}
.destination {
  font-size: 13px;
}
.selected {
  background: rgb(var(--v-theme-tint-primary));
}
.go {
  display: block;
  color: inherit;
  text-decoration: none;
  min-width: 0;
}
.old {
  padding-left: 10px;
  overflow: hidden;
  font-size: 12px;
  line-height: 18px;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.old:last-child {
  padding-bottom: 4px;
}
.figure {
  font-variant-numeric: tabular-nums;
}
@media (max-width: 700px) {
  .wide {
    display: none;
  }
  .address-column {
    width: auto;
  }
}
</style>
