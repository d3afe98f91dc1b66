<script setup lang="ts">
import type { SlugDecision, SlugRulesReview } from '~~/core/schemas'

const { review } = defineProps<{ review: SlugRulesReview }>()
const decisions = defineModel<Record<number, SlugDecision>>('decisions', { required: true })
const keepRest = defineModel<boolean>('keepRest', { required: true })
function decide(id: number, decision: SlugDecision | undefined) {
  const { [id]: _before, ...others } = decisions.value
  decisions.value = decision ? { ...others, [id]: decision } : others
}
/** The one that keeps the address is the one nothing else is decided about. */
const keeper = (links: SlugRulesReview['merging'][number]['links']) => {
  const left = links.filter(({ id }) => !decisions.value[id])
  return left.length === 1 ? left[0]!.id : undefined
}
</script>

<template>
  <section class="review" aria-labelledby="review-title">
    <h2 id="review-title">Effect on existing links</h2>
    <p v-if="review.breakingTotal + review.mergingTotal === 0" role="status">
      <StateMark state="sound" /> No existing address is affected.
    </p>
    <template v-if="review.mergingTotal > 0">
      <h3>
        {{
          review.mergingTotal === 1
            ? 'One address would be shared'
            : `${review.mergingTotal.toLocaleString('en')} addresses would be shared`
        }}; choose the link that keeps each
      </h3>
      <div v-for="group in review.merging" :key="group.address" class="group">
        <p>
          <StateMark state="broken" /> <b class="mono">{{ group.address }}</b>
        </p>
        <DecisionRow
          v-for="link in group.links"
          :key="link.id"
          :link="link"
          :others="group.links.filter(({ id }) => id !== link.id)"
          :decision="decisions[link.id]"
          shared
          :keeps="keeper(group.links) === link.id"
          @decide="decide(link.id, $event)"
        />
      </div>
      <p v-if="review.mergingTotal > review.merging.length" class="soft">
        Those with most visits are shown; save in steps to settle the rest.
      </p>
    </template>
    <template v-if="review.breakingTotal > 0">
      <h3>
        {{
          review.breakingTotal === 1
            ? 'One link breaks the new rules'
            : `${review.breakingTotal.toLocaleString('en')} links break the new rules`
        }}
      </h3>
      <VCheckbox v-model="keepRest" density="compact" hide-details label="Keep all undecided links as exceptions" />
      <div class="group many">
        <DecisionRow
          v-for="link in review.breaking"
          :key="link.id"
          :link="link"
          :others="[]"
          :decision="decisions[link.id]"
          :shared="false"
          :keeps="keepRest && !decisions[link.id]"
          @decide="decide(link.id, $event)"
        />
      </div>
      <p v-if="review.breakingTotal > review.breaking.length" class="soft">
        The {{ review.breaking.length }} with most visits are shown.
      </p>
    </template>
  </section>
</template>

<style scoped>
.review {
  display: flex;
  flex-direction: column;
  gap: 8px;
  padding: 12px 14px;
  border-left: 4px solid rgb(var(--v-theme-warning));
  background: rgb(var(--v-theme-background));
}
.group {
  padding: 6px 10px;
  border: 1px solid rgb(var(--v-theme-rule));
  border-radius: 4px;
  background: rgb(var(--v-theme-surface));
}
.many {
  max-height: 460px;
  overflow-y: auto;
}
</style>
