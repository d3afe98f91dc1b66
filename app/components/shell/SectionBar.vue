<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { SECTIONS, useSections } from '~/composables/sections'

/** The sections on a phone; those for which the bar has no room are under *More*. */
const { current, counts, pathOf } = useSections()
const FIRST = 4
const isOpen = ref(false)
const others = computed(() => [
  ...SECTIONS.slice(FIRST),
  { name: 'misses', title: 'Not found', to: '/misses' },
  { name: 'dates', title: 'Dates', to: '/dates' },
  { name: 'trace', title: 'Trace', to: '/trace' },
  { name: 'settings', title: 'Settings', to: '/settings' },
])
const inMore = computed(() => others.value.some(({ name }) => name === current.value))
const route = useRoute()
watch(
  () => route.fullPath,
  () => (isOpen.value = false),
)
</script>

<template>
  <div class="bar" @keydown.esc="isOpen = false">
    <ul v-if="isOpen" id="more-sections" class="more">
      <li v-for="{ name, title, to } in others" :key="name">
        <NuxtLink :to="to" class="entry" :class="{ on: current === name }">{{ title }}</NuxtLink>
      </li>
    </ul>
    <ul class="row">
      <li v-for="section in SECTIONS.slice(0, FIRST)" :key="section.name">
        <NuxtLink
          :to="pathOf(section)"
          class="tab"
          :class="{ on: current === section.name }"
          :aria-current="current === section.name ? 'page' : undefined"
          >{{ section.title
          }}<span v-if="section.name === 'docket' && counts.docket" class="count">{{
            counts.docket.toLocaleString('en')
          }}</span></NuxtLink
        >
      </li>
      <li>
        <button
          type="button"
          class="tab"
          :class="{ on: inMore || isOpen }"
          :aria-expanded="isOpen"
          aria-controls="more-sections"
          @click="isOpen = !isOpen"
        >
          More
        </button>
      </li>
    </ul>
  </div>
</template>

<style scoped>
.bar {
  width: 100%;
}
.more {
  position: absolute;
  right: 0;
  bottom: 100%;
  left: 0;
  border-top: 1px solid rgb(var(--v-theme-rule));
  background: rgb(var(--v-theme-surface));
}
.row,
.more {
  padding: 0;
  list-style: none;
}
.row {
  display: flex;
  height: 55px;
}
.row > li {
  flex: 1 1 0;
  min-width: 0;
}
.tab {
  display: flex;
  flex-direction: column;
  align-items: center;
  justify-content: center;
  width: 100%;
  height: 100%;
  border-top: 3px solid transparent;
  color: rgb(var(--v-theme-soft));
  font-size: 13px;
  font-weight: 600;
  line-height: 1.25;
  text-decoration: none;
}
.on {
  border-top-color: rgb(var(--v-theme-primary));
  color: rgb(var(--v-theme-primary));
}
.count {
  font-size: 12px;
}
.entry {
  display: flex;
  align-items: center;
  min-height: 44px;
  padding: 0 16px;
  border-bottom: 1px solid rgb(var(--v-theme-rule));
  color: inherit;
  font-weight: 600;
  text-decoration: none;
}
.entry.on {
  color: rgb(var(--v-theme-primary));
}
</style>
