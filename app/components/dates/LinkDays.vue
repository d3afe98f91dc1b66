<script setup lang="ts">
import { watch } from 'vue'
import { LINK_DATE_KINDS, type Link } from '~~/core/schemas'

const { link } = defineProps<{ link: Link }>()
const store = useDatesStore()
const session = useSessionStore()
const { adding, fields, faults, busy, add, discard } = useSmallForm(
  `date of link ${link.id}`,
  () => ({ kind: 'look-again' as keyof typeof LINK_DATE_KINDS, day: '', note: '', remindDays: 7 }),
  (given) => store.addDay(link.id, given),
)
const kinds = Object.entries(LINK_DATE_KINDS).map(([value, title]) => ({ value, title }))

watch(
  () => link.id,
  (id) => void store.loadDays(id).catch(() => undefined),
  { immediate: true },
)
const tickOff = (id: number) => store.tickOff(link.id, id).catch((error: Error) => useNotice().tell(error.message))
const { day: dayWords } = useMoments()
</script>

<template>
  <section aria-label="Days" class="mt-4">
    <h3>
      Days<template v-if="store.of === link.id && store.days.length"> · {{ store.days.length }}</template>
    </h3>
    <ul v-if="store.of === link.id && store.days.length" class="list">
      <li v-for="item in store.days" :key="item.id">
        <span
          ><b>{{ dayWords(item.day) }}</b
          >, {{ LINK_DATE_KINDS[item.kind].toLowerCase()
          }}<span class="soft"
            ><template v-if="item.note">: {{ item.note }}</template
            >; comes up {{ item.remindDays === 0 ? 'on the day' : `${item.remindDays} days before` }}</span
          ></span
        >
        <VBtn
          v-if="session.may('editor')"
          size="small"
          variant="text"
          :aria-label="`Mark as done: ${dayWords(item.day)}`"
          @click="tickOff(item.id)"
          >Mark as done</VBtn
        >
      </li>
    </ul>
    <p v-else class="soft">No review date.</p>
    <template v-if="session.may('editor')">
      <VBtn v-if="!adding" variant="text" class="px-1" @click="adding = true">Add a date</VBtn>
      <form v-else class="form field-column" novalidate @submit.prevent="add">
        <VSelect v-model="fields.kind" :items="kinds" label="Kind" :error-messages="faults.kind" />
        <DateField v-model="fields.day" kind="day" label="Date" :error-messages="faults.day" />
        <VTextField
          v-model="fields.note"
          label="Note, like “ask the museum”"
          maxlength="300"
          :error-messages="faults.note"
        />
        <VNumberInput
          v-model="fields.remindDays"
          label="Reminder (days before)"
          :min="0"
          :max="365"
          control-variant="hidden"
          :error-messages="faults.remindDays"
        />
        <VAlert v-if="faults.all" type="error" variant="tonal" density="compact">{{ faults.all }}</VAlert>
        <div class="d-flex ga-2">
          <VBtn type="submit" color="primary" variant="flat" :loading="busy">Add date</VBtn
          ><VBtn @click="discard">Discard</VBtn>
        </div>
      </form>
    </template>
  </section>
</template>

<style scoped>
.list {
  padding: 0;
  list-style: none;
  font-size: 13px;
}
.list > li {
  display: flex;
  gap: 8px;
  align-items: baseline;
  justify-content: space-between;
}
.form {
  display: flex;
  flex-direction: column;
  gap: 10px;
  margin-top: 6px;
}
</style>
