<script setup lang="ts">
import { mdiCalendarBlankOutline } from '@mdi/js'
import { computed, ref, watch } from 'vue'
import { useScope } from '@/book/scope'
import CalendarCard from './CalendarCard.vue'
import Icon from './Icon.vue'
import { longDay } from './figures'
import { readDate } from './reading'

/**
 * A date as people write it (3/9, 9.3., today, -1, 18 Nov), shown with its month's name, and a calendar to choose it from.
 * The value is "2026-11-18", or what was typed where that is no date, which the book refuses with a sentence.
 */
const props = defineProps<{ id?: string; label?: string; wrong?: boolean; said?: string; hint?: string }>()
const value = defineModel<string>({ required: true })
const scope = useScope()
const today = computed(() => scope.today.value || new Date().toISOString().slice(0, 10))
const isDate = (text: string) => /^\d{4}-\d\d-\d\d$/.test(text)
const shownOf = (date: string) => (isDate(date) ? longDay(date) : date)
const shown = ref('')
let mine = ''
watch(
  value,
  (date) => {
    if (date !== mine) shown.value = shownOf(date)
  },
  { immediate: true },
)
function typed(text: string) {
  shown.value = text
  mine = text.trim() ? (readDate(text, today.value) ?? text) : ''
  value.value = mine
}
function settle() {
  shown.value = shownOf(value.value)
}

const open = ref(false)
const button = ref<HTMLButtonElement>()
function close() {
  open.value = false
  button.value?.focus()
}
function choose(date: string) {
  mine = value.value = date
  settle()
  close()
}
function left(event: FocusEvent) {
  if (!(event.currentTarget as HTMLElement).contains(event.relatedTarget as Node | null)) open.value = false
}
</script>

<template>
  <span class="date" @focusout="left">
    <input
      :id="props.id"
      :value="shown"
      :placeholder="hint"
      autocomplete="off"
      :aria-label="label"
      :aria-invalid="wrong"
      :aria-describedby="said"
      @input="typed(($event.target as HTMLInputElement).value)"
      @change="settle"
      @keydown.alt.down.prevent="open = !open"
    />
    <button ref="button" type="button" tabindex="-1" aria-label="Calendar" :aria-expanded="open" @click="open = !open">
      <Icon :path="mdiCalendarBlankOutline" :size="16" />
    </button>
    <CalendarCard v-if="open" class="under" :date="isDate(value) ? value : ''" @choose="choose" @close="close" />
  </span>
</template>

<style scoped>
.date {
  position: relative;
  display: flex;
  align-items: center;
  width: 100%;
  border-bottom: 1.5px solid var(--ink);
}
input {
  height: 1.5625rem;
  border: 0;
  background: none;
  font-size: 0.875rem;
  font-weight: 580;
  color: var(--ink);
  padding: 0 2px;
  min-width: 0;
  width: 100%;
}
.date > button {
  width: 1.5rem;
  height: 1.5rem;
  flex: none;
  display: grid;
  place-items: center;
  color: var(--ink-soft);
}
.under {
  position: absolute;
  z-index: 6;
  top: 100%;
  left: 0;
}
</style>
