<script setup lang="ts">
import { computed } from 'vue'
import { queryWords } from '~/composables/query-words'
import type { Link } from '~~/core/schemas'

/** The settings of a link in words, each with a way to change it. */
const { link } = defineProps<{ link: Link }>()
defineEmits<{ edit: [] }>()
const session = useSessionStore()
const { short, exact } = useMoments()
const mayEdit = computed(() => session.may('editor') && link.forwardsTo === null)
const dates = computed(() =>
  [
    link.startsAt ? `from ${short(link.startsAt)}` : 'no start',
    link.endsAt ? `until ${short(link.endsAt)}` : 'no end',
    link.resumesAt && `resumes ${short(link.resumesAt)}`,
  ]
    .filter(Boolean)
    .join(' · '),
)
const rows = computed(() =>
  [
    { name: 'Query', text: queryWords(link) },
    { name: 'From – until', text: dates.value },
    { name: 'When ended', text: link.endedDestination ?? '', mono: true },
    { name: 'Owner', text: link.owner },
    { name: 'Note', text: link.note },
    { name: 'X-Robots-Tag', text: link.robots ?? '', mono: true },
    { name: 'Referrer-Policy', text: link.referrerPolicy ?? '', mono: true },
    { name: 'Unlisted', text: link.unlisted ? 'Never suggested to visitors who mistype another address.' : '' },
  ].filter(({ name, text }) => text !== '' || ['Owner', 'Note'].includes(name)),
)
</script>

<template>
  <dl class="settings">
    <div v-for="{ name, text, mono } in rows" :key="name" class="row">
      <dt>{{ name }}</dt>
      <dd>
        <span :class="{ mono, soft: text === '' }">{{ text || 'none' }}</span>
        <button v-if="mayEdit" type="button" class="change" :aria-label="`Change ${name}`" @click="$emit('edit')">
          change
        </button>
      </dd>
    </div>
    <div class="row">
      <dt>Created</dt>
      <dd :title="exact(link.createdAt)">{{ short(link.createdAt) }}</dd>
    </div>
  </dl>
</template>

<style scoped>
.row {
  display: grid;
  grid-template-columns: 130px minmax(0, 1fr);
  gap: 4px 12px;
  align-items: baseline;
  min-height: 34px;
  padding: 6px 0;
  border-bottom: 1px solid rgb(var(--v-theme-rule));
}
dt {
  color: rgb(var(--v-theme-soft));
}
dd {
  display: flex;
  gap: 12px;
  align-items: baseline;
  justify-content: space-between;
  min-width: 0;
  overflow-wrap: anywhere;
  white-space: pre-line;
}
.change {
  flex: none;
  min-height: 24px;
  padding: 0 4px;
  color: rgb(var(--v-theme-soft));
  text-decoration: underline;
}
@media (max-width: 699px) {
  .row {
    grid-template-columns: minmax(0, 1fr);
  }
  .change {
    min-height: 44px;
  }
}
</style>
