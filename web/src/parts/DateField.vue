<script setup lang="ts">
import { mdiCalendarBlankOutline } from '@mdi/js'
import { computed, nextTick, ref, watch } from 'vue'
import { useScope } from '@/book/scope'
import Icon from './Icon.vue'
import { addDays, dayNumber, longDay, monthName, weekday, weekdayNumber } from './figures'
import { readDate } from './reading'

/**
 * A date as people write it (3/9, 9.3., today, -1, 18 Nov), shown with its month's name, and a calendar to choose it from.
 * The value is "2026-11-18", or what was typed where that is no date, which the book refuses with a sentence.
 */
const props = defineProps<{ id?: string; label?: string; wrong?: boolean; said?: string }>()
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
const marked = ref('')
const grid = ref<HTMLElement>()
const button = ref<HTMLButtonElement>()
const first = computed(() => `${(marked.value || today.value).slice(0, 8)}01`)
const start = computed(() => addDays(first.value, -((weekdayNumber(first.value) - scope.firstDay.value + 7) % 7)))
const weeks = computed(() =>
  [0, 7, 14, 21, 28, 35].map((w) => [0, 1, 2, 3, 4, 5, 6].map((d) => addDays(start.value, w + d))),
)
const month = (date: string) => date.slice(0, 7)
function show() {
  open.value = !open.value
  marked.value = isDate(value.value) ? value.value : today.value
  if (open.value) focusMarked()
}
function focusMarked() {
  void nextTick(() => grid.value?.querySelector<HTMLElement>(`[data-date="${marked.value}"]`)?.focus())
}
function close() {
  open.value = false
  button.value?.focus()
}
function choose(date: string) {
  mine = value.value = date
  settle()
  close()
}
const months = (date: string, by: number) => {
  const d = new Date(`${date.slice(0, 7)}-01T00:00:00Z`)
  d.setUTCMonth(d.getUTCMonth() + by + 1, 0)
  return `${d.toISOString().slice(0, 8)}${String(Math.min(dayNumber(date), d.getUTCDate())).padStart(2, '0')}`
}
function move(event: KeyboardEvent) {
  const by = { ArrowLeft: -1, ArrowRight: 1, ArrowUp: -7, ArrowDown: 7 }[event.key]
  if (event.key === 'Escape') close()
  else if (by) marked.value = addDays(marked.value, by)
  else if (event.key === 'PageUp') marked.value = months(marked.value, -1)
  else if (event.key === 'PageDown') marked.value = months(marked.value, 1)
  else return
  event.preventDefault()
  event.stopPropagation()
  if (open.value) focusMarked()
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
      autocomplete="off"
      :aria-label="label"
      :aria-invalid="wrong"
      :aria-describedby="said"
      @input="typed(($event.target as HTMLInputElement).value)"
      @change="settle"
      @keydown.alt.down.prevent="show"
    />
    <button ref="button" type="button" tabindex="-1" aria-label="Calendar" :aria-expanded="open" @click="show">
      <Icon :path="mdiCalendarBlankOutline" :size="16" />
    </button>
    <div v-if="open" ref="grid" class="calendar" role="dialog" aria-label="Choose a date" @keydown="move">
      <header>
        <button type="button" aria-label="Month before" @click="marked = months(marked, -1)">‹</button>
        <b aria-live="polite">{{ monthName(first) }}</b>
        <button type="button" aria-label="Month after" @click="marked = months(marked, 1)">›</button>
      </header>
      <div class="days names" aria-hidden="true">
        <span v-for="d in weeks[0]" :key="d">{{ weekday(d) }}</span>
      </div>
      <div v-for="w in weeks" :key="w[0]" class="days">
        <button
          v-for="d in w"
          :key="d"
          type="button"
          :data-date="d"
          :class="{ other: month(d) !== month(first), today: d === today }"
          :aria-label="longDay(d)"
          :aria-pressed="d === value"
          :tabindex="d === marked ? 0 : -1"
          @click="choose(d)"
        >
          {{ dayNumber(d) }}
        </button>
      </div>
    </div>
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
  height: 25px;
  border: 0;
  background: none;
  font-size: 14px;
  font-weight: 580;
  color: var(--ink);
  padding: 0 2px;
  min-width: 0;
  width: 100%;
}
.date > button {
  width: 24px;
  height: 24px;
  flex: none;
  display: grid;
  place-items: center;
  color: var(--ink-soft);
}
.calendar {
  position: absolute;
  z-index: 6;
  top: 100%;
  left: 0;
  padding: 8px;
  background: var(--paper);
  color: var(--ink);
  border: 1px solid var(--canvas-edge);
  border-radius: 3px;
  box-shadow: 0 5px 12px -4px var(--shade-far);
}
header {
  display: flex;
  justify-content: space-between;
  align-items: center;
  height: 28px;
}
header button {
  width: 28px;
  height: 28px;
  font-size: 17px;
}
.days {
  display: grid;
  grid-template-columns: repeat(7, 34px);
}
.names {
  font-size: var(--t-sub);
  color: var(--ink-soft);
  text-align: center;
}
.days button {
  height: 28px;
  border-radius: 2px;
}
.days button:hover {
  background: var(--denim-wash);
}
.other {
  color: var(--ink-soft);
}
.today {
  font-weight: 680;
  box-shadow: inset 0 -2px 0 var(--denim);
}
[aria-pressed='true'] {
  background: var(--denim);
  color: var(--paper);
}
</style>
