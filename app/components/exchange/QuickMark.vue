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
    <h2 id="mark-title">From any page</h2>
    <p class="soft">
      Drag this to the bar of bookmarks. On a page it opens a small window with its short address, copied already; where
      it has none, one is made there. Nothing but the page’s address and title is sent.
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
