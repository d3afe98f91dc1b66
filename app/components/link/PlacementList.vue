<script setup lang="ts">
import type { Link } from '~~/core/schemas'

const { link } = defineProps<{ link: Link }>()
const store = useLinkStore()
const session = useSessionStore()
const { day } = useMoments()
const { adding, fields, faults, busy, add, discard } = useSmallForm(
  `placement of link ${link.id}`,
  () => ({ medium: '', place: '', placedOn: '', copies: undefined as number | undefined, changeable: false }),
  (given) => store.addPlacement(link.id, { ...given, placedOn: given.placedOn || null, copies: given.copies ?? null }),
)
async function copy(mark: string) {
  const address = `https://${link.domain}/${link.slug}?~=${mark}`
  await navigator.clipboard.writeText(address)
  useNotice().tell(`Copied ${address}`)
}
async function remove(id: number) {
  await store.removePlacement(link.id, id).catch((error: Error) => useNotice().tell(error.message))
}
</script>

<template>
  <section aria-label="Placements" class="mt-4">
    <h3>
      Placements<template v-if="link.placements?.length"> · {{ link.placements.length }}</template>
    </h3>
    <ul v-if="link.placements?.length" class="list">
      <li v-for="item in link.placements" :key="item.id">
        <span
          ><b>{{ item.medium }}</b
          ><template v-if="item.place">, {{ item.place }}</template
          ><span class="soft"
            ><template v-if="item.copies"
              >, {{ item.copies.toLocaleString('en') }} {{ item.copies === 1 ? 'copy' : 'copies' }}</template
            ><template v-if="item.placedOn">, since {{ day(item.placedOn) }}</template
            >; {{ item.changeable ? 'can be changed' : 'cannot be changed' }}</span
          ><br /><span class="mono soft" title="Visits with this mark are counted for this placement"
            >{{ link.address }}?~={{ item.mark }}</span
          ></span
        >
        <VBtn
          size="small"
          variant="text"
          :aria-label="`Copy the address of ${item.medium} ${item.place}`"
          @click="copy(item.mark)"
          >Copy</VBtn
        >
        <VBtn
          v-if="session.may('editor')"
          size="small"
          variant="text"
          :aria-label="`Remove: ${item.medium} ${item.place}`"
          @click="remove(item.id)"
          >Remove</VBtn
        >
      </li>
    </ul>
    <p v-else class="soft">No placements are recorded.</p>
    <template v-if="session.may('editor')">
      <VBtn v-if="!adding" variant="text" class="px-1" @click="adding = true">Add a placement</VBtn>
      <form v-else class="form field-column" novalidate @submit.prevent="add">
        <VTextField
          v-model="fields.medium"
          label="Medium, for example “Stop poster”"
          maxlength="120"
          :error-messages="faults.medium"
        />
        <VTextField v-model="fields.place" label="Place" maxlength="300" :error-messages="faults.place" />
        <DateField v-model="fields.placedOn" kind="day" past label="Since" :error-messages="faults.placedOn" />
        <VNumberInput
          v-model="fields.copies"
          label="Copies"
          :min="1"
          control-variant="hidden"
          :error-messages="faults.copies"
        />
        <VCheckbox v-model="fields.changeable" label="Can be changed later" />
        <VAlert v-if="faults.all" type="error" variant="tonal" density="compact">{{ faults.all }}</VAlert>
        <div class="d-flex ga-2">
          <VBtn type="submit" color="primary" variant="flat" :loading="busy">Add placement</VBtn
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
