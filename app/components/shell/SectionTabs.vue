<script setup lang="ts">
import { SECTIONS, useSections } from '~/composables/sections'

const { current, counts, pathOf } = useSections()
</script>

<template>
  <ul class="tabs">
    <li v-for="section in SECTIONS" :key="section.name">
      <NuxtLink
        :to="pathOf(section)"
        class="tab"
        :class="{ on: current === section.name }"
        :aria-current="current === section.name ? 'page' : undefined"
        >{{ section.title
        }}<span v-if="counts[section.name] !== undefined" class="count" :class="{ alarm: section.name === 'docket' }">{{
          counts[section.name]!.toLocaleString('en')
        }}</span></NuxtLink
      >
    </li>
  </ul>
</template>

<style scoped>
.tabs {
  display: flex;
  gap: 22px;
  height: 100%;
  padding: 0 20px;
  list-style: none;
}
.tab {
  display: flex;
  align-items: center;
  height: 38px;
  border-bottom: 3px solid transparent;
  border-top: 3px solid transparent;
  color: rgb(var(--v-theme-soft));
  font-weight: 600;
  text-decoration: none;
}
.tab:hover {
  color: rgb(var(--v-theme-on-surface));
}
.on,
.on:hover {
  border-bottom-color: rgb(var(--v-theme-primary));
  color: rgb(var(--v-theme-primary));
}
.count {
  margin-left: 6px;
  padding: 0 7px;
  border-radius: 9px;
  background: rgb(var(--v-theme-count));
  color: rgb(var(--v-theme-on-surface));
  font-size: 12px;
  line-height: 17px;
  font-variant-numeric: tabular-nums;
}
.alarm {
  background: rgb(var(--v-theme-error));
  color: rgb(var(--v-theme-surface));
}
@media (max-width: 900px) {
  .tabs {
    gap: 14px;
    padding: 0 12px;
  }
}
</style>
