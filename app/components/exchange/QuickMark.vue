<script setup lang="ts">
import { computed } from 'vue'

/** A bookmark that asks this desk for the short address of whatever page one is on. */
const code = computed(() => {
  const desk = JSON.stringify(`${location.origin}/quick?to=`)
  const page = "encodeURIComponent(location.href)+'&title='+encodeURIComponent(document.title)"
  const open = `window.open(${desk}+${page},'fides','width=460,height=560')`
  return `javascript:(()=>{${open}})()`
})
</script>

<template>
  <section aria-labelledby="mark-title">
    <h2 id="mark-title">Bookmark button</h2>
    <p class="soft">
      Drag this to your bookmarks bar. On any page it opens a small window with the short address, or a form to create
      one. Only the page’s address and title are sent.
    </p>
    <a :href="code" class="mark" draggable="true" @click.prevent>Short address</a>
  </section>
</template>

<style scoped>
.mark {
  display: inline-block;
  padding: 4px 12px;
  margin-top: 6px;
  border: 1px solid rgb(var(--v-theme-soft));
  border-radius: 12px;
  color: inherit;
  text-decoration: none;
  cursor: grab;
}
</style>
