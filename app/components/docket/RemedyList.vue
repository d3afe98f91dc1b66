<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import type { Remedy, RemedyScope } from '~~/core/schemas'
import { visitsADay } from '~/composables/visits-a-day'
import type { AbleRemedy } from '~/stores/docket'

const { remedies } = defineProps<{ remedies: Remedy[] }>()
const emit = defineEmits<{ able: [able: AbleRemedy] }>()
/** Remedies that can be chosen; the others are being tried, or were tried without success. */
const offers = computed(() => remedies.filter(({ applies, to }) => applies || to !== null))
/** Remedies shown at first, so that the buttons below them stay in view. */
const FEW = 2
const isAll = ref(false)
const shown = computed(() => (isAll.value ? offers.value : offers.value.slice(0, FEW)))
// The remedy that keeps most and can be applied from here comes first to hand.
const first = () => (offers.value.find(({ applies }) => applies) ?? offers.value[0])?.id
const chosen = ref(first())
// The chosen remedy is always shown.
if (offers.value.findIndex(({ id }) => id === chosen.value) >= FEW) isAll.value = true
const remedy = computed(() => remedies.find(({ id }) => id === chosen.value))
// What is worked out anew may no longer offer what was chosen.
watch(remedy, (now) => now ?? (chosen.value = first()))
const { short } = useMoments()
const verifiedWords = ({ verified, verifiedAt }: Remedy) =>
  verifiedAt === null ? verified : `${verified}, ${short(verifiedAt)}`
const reason = ref('')
const slug = ref('')
const destination = ref('')
watch([chosen, () => remedy.value?.proposed], () => (slug.value = remedy.value?.proposed ?? ''), { immediate: true })
/** What it is applied to, where there is a choice; the first is the usual one. */
const scope = ref<RemedyScope>()
const scopes = computed(() =>
  (remedy.value?.scopes ?? []).map((one) => ({
    value: one.scope,
    title: `${one.label} · ${visitsADay(one.visits)} visits a day`,
  })),
)
watch(
  () => [chosen.value, scopes.value.map(({ value }) => value).join()].join(),
  () => (scope.value = scopes.value[0]?.value),
  { immediate: true },
)
const applies = computed(
  () =>
    remedy.value?.applies === true &&
    (!remedy.value.asks.includes('reason') || reason.value.trim() !== '') &&
    (!remedy.value.asks.includes('slug') || slug.value.trim() !== '') &&
    (!remedy.value.asks.includes('destination') || destination.value.trim() !== ''),
)
watch(
  [applies, remedy],
  () =>
    emit('able', {
      applies: applies.value,
      to: remedy.value?.applies === false ? remedy.value.to : null,
      undoable: remedy.value?.undoable === true,
      leads: remedy.value?.destination != null,
    }),
  { immediate: true },
)
defineExpose({
  /** The remedy to apply with what it asks for; nothing where something is still missing. */
  chosen: () =>
    applies.value && remedy.value
      ? {
          id: remedy.value.id,
          given: {
            ...(remedy.value.asks.includes('slug') && { slug: slug.value.trim() }),
            ...(remedy.value.asks.includes('destination') && { destination: destination.value.trim() }),
            ...(remedy.value.asks.includes('reason') && { reason: reason.value.trim() }),
            ...(scope.value && { scope: scope.value }),
          },
        }
      : undefined,
})
</script>

<template>
  <div v-if="remedies.length > 0">
    <h2 id="remedies-title" class="mb-2">Remedies</h2>
    <div role="radiogroup" aria-labelledby="remedies-title" class="remedies">
      <label v-for="offer in shown" :key="offer.id" class="remedy" :class="{ chosen: chosen === offer.id }">
        <input v-model="chosen" type="radio" name="remedy" :value="offer.id" />
        <span class="text">
          <span class="title"
            ><b>{{ offer.title }}</b>
            <span v-if="offer.verified && chosen === offer.id" class="verified"
              ><StateMark state="sound" /> {{ verifiedWords(offer) }}</span
            ></span
          >
          <LongAddress v-if="offer.destination" :address="offer.destination" wrap />
          <template v-if="chosen === offer.id">
            <span class="soft">{{ offer.sentence }} <NuxtLink v-if="offer.to" :to="offer.to">Open</NuxtLink></span>
            <span v-for="record in offer.records" :key="record.name + record.type + record.data" class="mono record"
              >{{ record.name }} {{ record.ttl }} {{ record.type }} {{ record.data }}</span
            >
          </template>
          <span v-if="chosen === offer.id && offer.scopes.length > 0" class="asks wide">
            <VSelect v-model="scope" :items="scopes" label="Apply to" density="compact" />
          </span>
          <span v-if="chosen === offer.id && offer.asks.length > 0" class="asks">
            <VTextField
              v-if="offer.asks.includes('slug')"
              v-model="slug"
              class="mono"
              label="New slug"
              maxlength="200"
              density="compact"
            />
            <VTextField
              v-if="offer.asks.includes('destination')"
              v-model="destination"
              label="Destination"
              maxlength="8000"
              density="compact"
            />
            <VTextField
              v-if="offer.asks.includes('reason')"
              v-model="reason"
              label="Reason"
              maxlength="500"
              density="compact"
            />
          </span>
        </span>
        <span v-if="offer.visitsKept > 0" class="kept"
          ><b>{{ visitsADay(offer.visitsKept) }}</b
          ><span v-if="chosen === offer.id" class="soft">visits a day</span></span
        >
      </label>
      <button v-if="offers.length > FEW && !isAll" type="button" class="more" @click="isAll = true">
        {{ offers.length - FEW === 1 ? '1 more remedy' : `${offers.length - FEW} more remedies` }}
      </button>
    </div>
  </div>
</template>

<style scoped>
.remedies {
  display: flex;
  flex-direction: column;
  gap: 6px;
}
.remedy {
  display: flex;
  gap: 12px;
  padding: 9px 12px;
  border: 1px solid rgb(var(--v-theme-rule));
  border-radius: 2px;
  background: rgb(var(--v-theme-surface));
  cursor: pointer;
}
.remedy.chosen {
  border-color: rgb(var(--v-theme-primary));
  box-shadow: inset 0 0 0 1px rgb(var(--v-theme-primary));
}
.remedy input {
  flex: none;
  width: 18px;
  height: 18px;
  margin: 1px 3px;
  accent-color: rgb(var(--v-theme-primary));
}
.text {
  overflow-wrap: anywhere;
  display: flex;
  flex: 1 1 0;
  flex-direction: column;
  gap: 2px;
  min-width: 0;
}
.verified {
  margin-left: 6px;
  color: rgb(var(--v-theme-success));
  font-size: 13px;
}
.more {
  align-self: flex-start;
  min-height: 28px;
  color: rgb(var(--v-theme-soft));
  text-decoration: underline;
}
.record {
  font-size: 13px;
  overflow-wrap: anywhere;
}
.asks {
  display: flex;
  flex-direction: column;
  gap: 8px;
  max-width: 420px;
  margin-top: 6px;
}
.wide {
  max-width: 640px;
}
.kept {
  display: flex;
  flex-direction: column;
  align-items: flex-end;
}
.kept > .soft {
  font-size: 12px;
}
</style>
