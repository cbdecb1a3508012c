<script setup lang="ts">
import { computed, nextTick, onMounted, ref } from 'vue'
import { useScope } from '@/book/scope'
import { addDays, dayNumber, longDay, monthName, weekday, weekdayNumber } from './figures'

/** A month to choose a day from: by the arrow keys, Page Up and Page Down for the month, Escape to leave it as it was. */
const props = defineProps<{ date: string }>()
const emit = defineEmits<{ choose: [date: string]; close: [] }>()
const scope = useScope()
const today = computed(() => scope.today.value || new Date().toISOString().slice(0, 10))
const marked = ref(props.date || today.value)
const grid = ref<HTMLElement>()
const first = computed(() => `${marked.value.slice(0, 8)}01`)
const start = computed(() => addDays(first.value, -((weekdayNumber(first.value) - scope.firstDay.value + 7) % 7)))
const weeks = computed(() =>
  [0, 7, 14, 21, 28, 35].map((w) => [0, 1, 2, 3, 4, 5, 6].map((d) => addDays(start.value, w + d))),
)
const month = (date: string) => date.slice(0, 7)
function focusMarked() {
  void nextTick(() => grid.value?.querySelector<HTMLElement>(`[data-date="${marked.value}"]`)?.focus())
}
onMounted(focusMarked)
const months = (date: string, by: number) => {
  const d = new Date(`${date.slice(0, 7)}-01T00:00:00Z`)
  d.setUTCMonth(d.getUTCMonth() + by + 1, 0)
  return `${d.toISOString().slice(0, 8)}${String(Math.min(dayNumber(date), d.getUTCDate())).padStart(2, '0')}`
}
function move(event: KeyboardEvent) {
  const by = { ArrowLeft: -1, ArrowRight: 1, ArrowUp: -7, ArrowDown: 7 }[event.key]
  if (event.key === 'Escape') emit('close')
  else if (by) marked.value = addDays(marked.value, by)
  else if (event.key === 'PageUp') marked.value = months(marked.value, -1)
  else if (event.key === 'PageDown') marked.value = months(marked.value, 1)
  else return
  event.preventDefault()
  event.stopPropagation()
  focusMarked()
}
</script>

<template>
  <div ref="grid" class="calendar" role="dialog" aria-label="Choose a date" @keydown="move">
    <div class="month">
      <button type="button" aria-label="Month before" @click="marked = months(marked, -1)">‹</button>
      <b aria-live="polite">{{ monthName(first) }}</b>
      <button type="button" aria-label="Month after" @click="marked = months(marked, 1)">›</button>
    </div>
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
        :aria-pressed="d === date"
        :tabindex="d === marked ? 0 : -1"
        @click="emit('choose', d)"
      >
        {{ dayNumber(d) }}
      </button>
    </div>
  </div>
</template>

<style scoped>
.calendar {
  padding: 8px;
  background: var(--paper);
  color: var(--ink);
  border: 1px solid var(--canvas-edge);
  border-radius: 3px;
  box-shadow: 0 5px 12px -4px var(--shade-far);
}
.month {
  display: flex;
  justify-content: space-between;
  align-items: center;
  height: 1.75rem;
}
.month button {
  width: 1.75rem;
  height: 1.75rem;
  font-size: 1.0625rem;
}
.days {
  display: grid;
  grid-template-columns: repeat(7, 2.125rem);
}
.names {
  font-size: var(--t-sub);
  color: var(--ink-soft);
  text-align: center;
}
.days button {
  height: 1.75rem;
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
