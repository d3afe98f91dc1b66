<script setup lang="ts">
import { computed } from 'vue'
import { CAMPAIGN_PARAMETERS, readCampaign, withCampaign, type Campaign } from '~~/core/address'

/** The campaign parameters of a destination, read from it and written into it. */
const destination = defineModel<string>({ required: true })
const campaign = computed(() => readCampaign(destination.value))
const names = Object.keys(CAMPAIGN_PARAMETERS) as (keyof Campaign)[]
const TITLES: Record<keyof Campaign, string> = {
  source: 'Source',
  medium: 'Medium',
  campaign: 'Campaign',
  term: 'Term',
  content: 'Content',
}
const set = (name: keyof Campaign, value: string | null) =>
  (destination.value = withCampaign(destination.value, { ...campaign.value, [name]: value ?? '' }))

const saved = useSavedStore()
void saved.load()
const wordsOf = (of: Campaign) => names.flatMap((name) => of[name]?.trim() || []).join(' · ')
const isKnown = computed(() => saved.of('campaign').some(({ value }) => wordsOf(value) === wordsOf(campaign.value)))
const keep = () =>
  saved.save({ kind: 'campaign', title: wordsOf(campaign.value).slice(0, 120), value: { ...campaign.value } })
const isWeb = computed(() => /^https?:\/\/[^/]/i.test(destination.value))
</script>

<template>
  <fieldset v-if="isWeb" class="tracking">
    <legend>Campaign parameters</legend>
    <div class="fields">
      <VTextField
        v-for="name in names"
        :key="name"
        :model-value="campaign[name] ?? ''"
        :label="TITLES[name]"
        maxlength="200"
        @update:model-value="set(name, $event)"
      />
    </div>
    <div v-if="saved.of('campaign').length > 0 || wordsOf(campaign)" class="sets">
      <span v-for="one in saved.of('campaign')" :key="one.id" class="set">
        <button type="button" @click="destination = withCampaign(destination, one.value)">{{ one.title }}</button>
        <button type="button" class="drop" :aria-label="`Remove ${one.title} for everybody`" @click="saved.remove(one)">
          ✕
        </button>
      </span>
      <button v-if="wordsOf(campaign) && !isKnown" type="button" class="set" @click="keep">
        Save this set for everybody
      </button>
    </div>
  </fieldset>
</template>

<style scoped>
.tracking {
  border: 0;
}
legend {
  padding: 0;
  font-size: 12px;
  color: rgb(var(--v-theme-soft));
}
.fields {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(130px, 1fr));
  gap: 4px 12px;
}
.sets {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  margin-top: 8px;
}
.set {
  min-height: 26px;
  padding: 1px 8px;
  border: 1px solid rgb(var(--v-theme-rule));
  font-size: 13px;
}
.drop {
  min-width: 24px;
  color: rgb(var(--v-theme-soft));
}
</style>
