<script setup lang="ts">
import { computed, onMounted, ref } from 'vue'
import { readLinkLines } from '~~/core/search'
import type { Link, ManyLinksAnswer } from '~~/core/schemas'

/** Creates several links from pasted lines; refused lines stay in the field. */
const { domain } = defineProps<{ domain: string }>()
const text = defineModel<string>({ required: true })
const emit = defineEmits<{ created: [links: Link[]]; single: [] }>()
const field = ref<{ focus(): void }>()
// It replaces the field that had the focus.
onMounted(() => field.value?.focus())
const saving = ref(false)
const fault = ref('')
const answers = ref<Record<number, string>>({})
const lines = computed(() => readLinkLines(text.value))
const good = computed(() => lines.value.filter((line) => !line.fault))

async function save() {
  saving.value = true
  fault.value = ''
  answers.value = {}
  const sent = good.value
  try {
    const { results } = await callApi<ManyLinksAnswer>('/links/many', {
      method: 'POST',
      body: {
        links: sent.map(({ slug, destination }) => ({ domain, destination, ...(slug && { slug }) })),
      },
    })
    const refused = results.filter(({ link }) => !link)
    for (const { index, problem } of refused) {
      const faults = (problem?.errors as { detail: string }[] | undefined)?.map(({ detail }) => detail)
      answers.value[sent[index]!.line] = faults?.join(' ') ?? problem?.detail ?? 'Refused.'
    }
    const created = results.flatMap(({ link }) => (link ? [link] : []))
    // Created lines are removed from the field, so that they are not created twice.
    const done = new Set(results.flatMap(({ index, link }) => (link ? [sent[index]!.line] : [])))
    if (done.size > 0) {
      const kept = text.value.split(/\r\n|\r|\n/)
      const left = kept.map((line, index) => [line, index + 1] as const).filter(([, number]) => !done.has(number))
      answers.value = Object.fromEntries(
        left.flatMap(([, number], index) => (answers.value[number] ? [[index + 1, answers.value[number]]] : [])),
      )
      text.value = left.map(([line]) => line).join('\n')
    }
    if (created.length > 0) emit('created', created)
  } catch (error) {
    fault.value = (error as Error).message
  } finally {
    saving.value = false
  }
}
defineExpose({ save })
const words = (count: number) => (count === 1 ? '1 link' : `${count.toLocaleString('en')} links`)
</script>

<template>
  <div class="several field-column">
    <VTextarea
      ref="field"
      v-model="text"
      label="Lines of slug and destination, or of destinations"
      class="mono"
      rows="6"
      auto-grow
      max-rows="14"
      spellcheck="false"
      placeholder="fares https://www.example/fares"
    />
    <ul v-if="lines.some(({ line, fault: wrong }) => wrong || answers[line])" class="faults" role="alert">
      <template v-for="{ line, fault: wrong } in lines" :key="line">
        <li v-if="wrong || answers[line]">Line {{ line }}: {{ wrong ?? answers[line] }}</li>
      </template>
    </ul>
    <p v-if="fault" class="text-error" role="alert">{{ fault }}</p>
    <div class="d-flex flex-wrap ga-3 align-center">
      <VBtn color="primary" variant="flat" :disabled="good.length === 0" :loading="saving" @click="save"
        >Create {{ words(good.length) }} <kbd class="mono key">Ctrl ↵</kbd></VBtn
      >
      <VBtn variant="text" @click="emit('single')">Create one link instead</VBtn>
      <span class="soft">On {{ domain }}. Lines without a slug get a random one.</span>
    </div>
  </div>
</template>

<style scoped>
.several {
  display: flex;
  flex-direction: column;
  gap: 12px;
}
.faults {
  padding-left: 18px;
  color: rgb(var(--v-theme-error));
  font-size: 13px;
}
.key {
  margin-left: 8px;
  opacity: 0.8;
}
</style>
