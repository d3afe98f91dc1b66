<script setup lang="ts">
import type { SlugCheck } from '~~/core/schemas'

/** `current`: what is told is of the slug that stands in the field. */
const { check, current } = defineProps<{ check: SlugCheck; current: boolean }>()
defineEmits<{ take: [slug: string] }>()
const visits = (count: number) => `${count.toLocaleString('en')} ${count === 1 ? 'visit' : 'visits'} in 28 days`
</script>

<template>
  <div class="advice" aria-live="polite">
    <template v-if="current">
      <p v-for="other in check.similar.slice(0, 3)" :key="other.id">
        <StateMark state="doubtful" /> {{ other.how === 'looks-alike' ? 'Looks like' : 'One typing error from' }}
        <NuxtLink :to="`/links/${other.id}`" target="_blank" class="mono">{{ other.address }}</NuxtLink>
        <span class="soft">{{ ` (${visits(other.visits28)})` }}</span>
      </p>
      <p v-if="check.rule">
        <StateMark state="doubtful" /> The rule <span class="mono">{{ check.rule.pattern }}</span> matches this address
        today; the link would take precedence.
      </p>
      <p v-for="note in check.shape" :key="note.kind" class="soft">{{ note.sentence }}</p>
      <p v-if="check.spoken" class="soft">Spoken form: {{ check.spoken }}</p>
    </template>
    <p v-if="check.suggestions.length > 0 || check.random" class="offers">
      <span class="soft">Available:</span>
      <button
        v-for="offer in check.suggestions"
        :key="offer.slug"
        type="button"
        class="mono offer"
        @click="$emit('take', offer.slug)"
      >
        {{ offer.slug }}
      </button>
      <button
        v-if="check.random"
        type="button"
        class="mono offer"
        :aria-label="`Random: ${check.random}`"
        @click="$emit('take', check.random)"
      >
        {{ check.random }}<span class="soft"> random</span>
      </button>
    </p>
  </div>
</template>

<style scoped>
.advice {
  margin-top: 4px;
  font-size: 13px;
}
.offers {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 6px;
  align-items: baseline;
  margin-top: 4px;
}
.offer {
  min-height: 26px;
  padding: 1px 7px;
  border: 1px solid rgb(var(--v-theme-rule));
  border-radius: 3px;
  background: rgb(var(--v-theme-surface));
}
.offer:hover {
  border-color: rgb(var(--v-theme-primary));
}
</style>
