<script setup lang="ts">
import { computed, ref } from 'vue'
import { alphabetSize, capacityOf } from '~~/core/slugs/capacity'
import { oddsOf, recommendLength } from '~~/core/slugs/odds'
import type { SlugRules } from '~~/core/slugs/slug-rules'

const { rules, capitalsMatter, taken } = defineProps<{ rules: SlugRules; capitalsMatter: boolean; taken: number }>()
defineEmits<{ take: [length: number] }>()
const next = ref(1000)
const bounds = ref({ taken: 0.1, collision: 1, guesses: 1000 })

const size = computed(() => alphabetSize(rules, capitalsMatter))
const capacity = computed(() => (size.value === 0 ? 0n : capacityOf(rules, capitalsMatter)))
const odds = computed(() => oddsOf(size.value, rules.randomLength || 1, taken, next.value || 0))
const recommended = computed(() =>
  size.value < 2
    ? undefined
    : recommendLength(size.value, taken, next.value || 0, {
        taken: bounds.value.taken / 100,
        collision: bounds.value.collision / 100,
        guesses: bounds.value.guesses,
      }),
)

/** An exponent in superscript digits: 96 is ⁹⁶. */
const raised = (power: number) => String(power).replace(/\d/g, (digit) => '⁰¹²³⁴⁵⁶⁷⁸⁹'[Number(digit)]!)

/** A chance as people read it. */
function chance(share: number): string {
  if (share === 0) return 'none'
  if (share >= 0.9995) return 'almost certain'
  if (share >= 0.001) return `${(share * 100).toFixed(share < 0.1 ? 2 : 1)}%`
  return `1 in ${large(Math.round(1 / share))}`
}
function large(number: number | bigint): string {
  if (typeof number === 'number' && number < 1e15) return Math.round(number).toLocaleString('en')
  const text = typeof number === 'bigint' ? number.toString() : number.toExponential(2)
  if (typeof number === 'bigint' && text.length <= 15) return BigInt(number).toLocaleString('en')
  const [figures, power] = typeof number === 'bigint' ? [text, text.length - 1] : text.split('e+')
  return `${figures!.replace(/^(\d)\.?(\d\d).*/, '$1.$2')} × 10${raised(Number(power))}`
}
</script>

<template>
  <section class="panel" aria-labelledby="room-title">
    <h2 id="room-title">Room</h2>
    <dl aria-live="polite">
      <dt>Possible addresses</dt>
      <dd>{{ large(capacity) }}<span v-if="rules.maxLength > 60" class="soft"> of up to 60 characters</span></dd>
      <dt>In use</dt>
      <dd>{{ taken.toLocaleString('en') }}</dd>
      <dt>Random slugs of {{ rules.randomLength }}</dt>
      <dd>
        {{ large(odds.capacity) }} <span class="soft">from {{ size }} characters</span>
      </dd>
      <dt>Chance that a random slug is taken</dt>
      <dd>{{ chance(odds.taken) }}</dd>
      <dt>Chance that any two of the next {{ next.toLocaleString('en') }} are the same</dt>
      <dd>{{ chance(odds.collision) }}</dd>
      <dt>Guesses needed to find a link (average)</dt>
      <dd>{{ large(odds.guesses) }}</dd>
    </dl>
    <h3>Limits</h3>
    <div class="bounds">
      <VNumberInput v-model="next" label="Next draws" :min="1" :max="100000000" control-variant="hidden" />
      <VNumberInput
        v-model="bounds.taken"
        label="One is taken, % at most"
        :min="0.000001"
        :max="100"
        :precision="null"
        control-variant="hidden"
      />
      <VNumberInput
        v-model="bounds.collision"
        label="Any two same, % at most"
        :min="0.000001"
        :max="100"
        :precision="null"
        control-variant="hidden"
      />
      <VNumberInput v-model="bounds.guesses" label="Guesses at least" :min="1" :max="1e15" control-variant="hidden" />
    </div>
    <p v-if="recommended" role="status">
      <b>Recommended length: {{ recommended.length }}.</b>
      <VBtn
        v-if="recommended.length !== rules.randomLength && recommended.length <= rules.maxLength"
        variant="text"
        color="primary"
        @click="$emit('take', recommended.length)"
        >Take {{ recommended.length }}</VBtn
      >
    </p>
    <p v-else class="soft">No length up to 64 meets these limits.</p>
  </section>
</template>

<style scoped>
.panel {
  display: flex;
  flex-direction: column;
  gap: 8px;
  padding: 12px 14px;
  border: 1px solid rgb(var(--v-theme-rule));
  border-radius: 4px;
  background: rgb(var(--v-theme-background));
}
dl {
  display: grid;
  grid-template-columns: minmax(45%, 1fr) auto;
  gap: 5px 12px;
  font-size: 13px;
}
dd {
  overflow-wrap: anywhere;
  font-weight: 700;
  text-align: right;
  font-variant-numeric: tabular-nums;
}
dd .soft {
  font-weight: 400;
}
.bounds {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 12px 10px;
}
</style>
