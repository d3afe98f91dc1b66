<script setup lang="ts">
import { refDebounced } from '@vueuse/core'
import { computed, nextTick, ref, watch } from 'vue'
import { pasteOnOneLine } from '~/composables/paste-on-one-line'
import { useScreen } from '~/composables/useScreen'

const field = ref<HTMLInputElement>()
const text = ref('')
const settled = refDebounced(text, 150)
const active = ref(false)
const chosen = ref(0)
const { choices, look } = useAddressLine()
const { isPhone } = useScreen()

watch(settled, (typed) => look(typed))
watch(choices, () => (chosen.value = 0))
const open = computed(() => active.value && text.value.trim() !== '' && choices.value.length > 0)

async function take(index = chosen.value) {
  // The list may still be a keystroke behind what was typed.
  if (settled.value !== text.value) await look(text.value)
  const choice = choices.value[index]
  if (!choice) return
  active.value = false
  field.value?.blur()
  await choice.take()
}

function move(by: number) {
  const count = choices.value.length
  if (count) chosen.value = (chosen.value + by + count) % count
}

function leave() {
  active.value = false
  text.value = ''
  field.value?.blur()
}

defineExpose({
  focus: () =>
    nextTick(() => {
      field.value?.focus()
      field.value?.select()
    }),
})
</script>

<template>
  <div class="wrap" role="search">
    <input
      ref="field"
      v-model="text"
      class="field mono"
      type="text"
      role="combobox"
      aria-label="Address line"
      :placeholder="isPhone ? 'Find, trace, create' : 'Find, trace or create: type or paste any address'"
      aria-autocomplete="list"
      aria-controls="address-choices"
      :aria-expanded="open"
      :aria-activedescendant="open ? `address-choice-${chosen}` : undefined"
      autocomplete="off"
      spellcheck="false"
      autocapitalize="off"
      maxlength="8000"
      @focus="active = true"
      @blur="active = false"
      @keydown.down.prevent="move(1)"
      @keydown.up.prevent="move(-1)"
      @keydown.enter.prevent="take()"
      @keydown.esc="leave"
      @paste="pasteOnOneLine"
    />
    <kbd v-if="!isPhone" class="mono key" aria-hidden="true">{{ active ? 'esc' : '/' }}</kbd>
    <ul v-show="open" id="address-choices" class="choices" role="listbox" aria-label="Actions">
      <li
        v-for="(choice, index) in choices"
        :id="`address-choice-${index}`"
        :key="choice.key"
        role="option"
        :aria-selected="index === chosen"
        class="choice"
        :class="{ chosen: index === chosen }"
        @mousedown.prevent="take(index)"
        @mousemove="chosen = index"
      >
        <span class="what">{{ choice.what }}</span>
        <span class="about"
          ><span class="mono address">{{ choice.address }}</span>
          <span v-if="choice.title" class="title">{{ choice.title }}</span></span
        >
      </li>
    </ul>
  </div>
</template>

<style scoped>
.wrap {
  position: relative;
}
.field {
  width: 100%;
  height: 34px;
  padding: 0 44px 0 12px;
  border: 1px solid rgba(var(--v-theme-on-band), 0.35);
  border-radius: 3px;
  background: rgb(var(--v-theme-band-field));
  color: rgb(var(--v-theme-on-band));
  font-size: 14px;
}
.field::placeholder {
  color: rgb(var(--v-theme-on-band));
  opacity: 0.86;
}
.key {
  position: absolute;
  right: 10px;
  top: 8px;
  padding: 0 6px;
  border: 1px solid rgba(var(--v-theme-on-band), 0.45);
  border-radius: 3px;
  font-size: 12px;
  line-height: 17px;
}
.choices {
  position: absolute;
  z-index: 2000;
  top: 38px;
  left: 0;
  right: 0;
  margin: 0;
  padding: 4px;
  list-style: none;
  border: 1px solid rgb(var(--v-theme-rule));
  border-radius: 4px;
  background: rgb(var(--v-theme-surface));
  color: rgb(var(--v-theme-on-surface));
  box-shadow: 0 4px 16px rgb(0 0 0 / 14%);
}
.choice {
  display: flex;
  gap: 12px;
  padding: 7px 8px;
  border-radius: 3px;
  cursor: pointer;
}
.chosen {
  background: rgb(var(--v-theme-tint-primary));
}
.what {
  flex: 0 0 128px;
  color: rgb(var(--v-theme-soft));
}
.about {
  flex: 1 1 auto;
  min-width: 0;
}
.address {
  overflow-wrap: anywhere;
}
.title {
  margin-left: 8px;
  color: rgb(var(--v-theme-soft));
}
@media (max-width: 699px) {
  .field {
    height: 44px;
    padding-right: 8px;
  }
  .choice {
    min-height: 44px;
    align-items: center;
  }
  .choices {
    position: fixed;
    top: 50px;
    left: 8px;
    right: 8px;
  }
  .what {
    flex-basis: 96px;
  }
}
</style>
