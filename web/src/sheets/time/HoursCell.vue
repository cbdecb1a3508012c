<script setup lang="ts">
import { useDebounceFn } from '@vueuse/core'
import { computed, ref } from 'vue'
import { answered, client } from '@/api/client'
import { figure } from '@/parts/figures'
import type { Cell } from './crewSheet'

/** One day of a line: shows decimal hours, takes hours as people write them, and reads back what it understood. */
const props = defineProps<{
  cell: Cell
  worker: number
  label: string
  wrong?: { text: string; said: string }
  ringed?: boolean
}>()
const emit = defineEmits<{ type: [text: string]; focus: []; move: [by: 'up' | 'down'] }>()
const typed = ref<string>()
const reading = ref<{ hours: string; reading: string; overtime?: string }>()
const focused = ref(false)
const shown = computed(
  () => typed.value ?? props.wrong?.text ?? (focused.value ? props.cell.text : figure(props.cell.hours)),
)

const read = useDebounceFn(async () => {
  const text = typed.value?.trim()
  if (!text) return
  const query = { worker: props.worker, date: props.cell.date, text, entry: props.cell.entryId ?? 0 }
  try {
    const answer = await answered(client.GET('/api/time/reading', { params: { query } }))
    if (typed.value?.trim() === text) reading.value = answer
  } catch {
    reading.value = undefined
  }
}, 120)

function input(event: Event) {
  typed.value = (event.target as HTMLInputElement).value
  reading.value = undefined
  void read()
}
function take() {
  const text = typed.value
  typed.value = undefined
  reading.value = undefined
  // What was refused may be typed again as it was: over what somebody else has typed meanwhile, it is meant.
  if (text !== undefined && (props.wrong || text !== props.cell.text)) emit('type', text)
}
function leave() {
  take()
  focused.value = false
}
function enter(event: FocusEvent) {
  focused.value = true
  emit('focus')
  const field = event.target as HTMLInputElement
  requestAnimationFrame(() => field.select())
}
function move(by: 'up' | 'down') {
  take()
  emit('move', by)
}
function revert() {
  typed.value = undefined
  reading.value = undefined
}
</script>

<template>
  <td class="day" :class="{ bad: wrong, hole: cell.hole && !typed, locked: cell.locked }">
    <input
      :value="shown"
      :aria-label="label"
      :aria-invalid="!!wrong"
      :readonly="!!cell.locked"
      :title="cell.locked || cell.reading"
      autocomplete="off"
      inputmode="text"
      @focus="enter"
      @blur="leave"
      @input="input"
      @keydown.enter.exact.prevent="move('down')"
      @keydown.down.prevent="move('down')"
      @keydown.up.prevent="move('up')"
      @keydown.esc="revert"
    />
    <span v-if="cell.overtime && !typed" class="over"
      ><span class="sr">of it overtime </span>{{ figure(cell.overtime) }}</span
    >
    <em v-if="cell.hole && !focused" aria-hidden="true">hole</em>
    <svg v-if="ringed" class="ring" viewBox="0 0 48 25" aria-hidden="true">
      <path d="M8 5C18 0 40 1 45 9c4 8-8 14-24 13C7 21 1 17 3 11 5 6 16 3 30 3" />
    </svg>
    <output v-if="reading && focused"
      ><b>{{ figure(reading.hours) }} h</b
      >{{ reading.overtime ? `${figure(reading.overtime)} over` : reading.reading.split(',')[0] }}</output
    >
  </td>
</template>

<style scoped>
td.day.day {
  position: relative;
  padding: 0;
  border-left: 1px solid var(--rule-faint);
  overflow: visible;
  vertical-align: top;
}
input {
  width: 100%;
  height: 31px;
  border: 0;
  background: none;
  text-align: right;
  padding: 0 9px 12px 2px;
  font-size: 14px;
  font-weight: 480;
  outline-offset: -2px;
}
input:focus {
  outline: 2px solid var(--denim);
  background: var(--paper);
  padding-bottom: 0;
  position: relative;
  z-index: 1;
}
.locked input {
  color: var(--ink-soft);
  cursor: default;
}
.over {
  position: absolute;
  right: 9px;
  bottom: 1px;
  display: inline-flex;
  align-items: center;
  gap: 2.5px;
  font-size: 10.5px;
  line-height: 11px;
  color: var(--ochre-ink);
  font-weight: 600;
  pointer-events: none;
}
.over::before {
  content: '';
  border: 3.5px solid transparent;
  border-bottom: 5px solid var(--ochre);
  border-top: 0;
}
input:focus ~ .over {
  display: none;
}
.hole::before {
  content: '';
  position: absolute;
  inset: 4px;
  border: 1.5px dashed var(--ochre-line);
  border-radius: 2px;
  pointer-events: none;
}
em {
  position: absolute;
  inset: 7px 0 0;
  text-align: center;
  font-style: normal;
  font-size: 11px;
  color: var(--ochre-ink);
  font-weight: 560;
  pointer-events: none;
}
.bad input {
  color: var(--rust);
  outline: 2px solid var(--rust);
  padding-bottom: 0;
}
output {
  position: absolute;
  z-index: 3;
  left: 100%;
  top: -1px;
  height: 33px;
  min-width: 56px;
  padding: 3px 8px 0;
  background: var(--paper);
  border: 2px solid var(--denim);
  border-left: 1px solid var(--rule);
  font-size: var(--t-sub);
  line-height: 12px;
  color: var(--ink-soft);
  white-space: nowrap;
  pointer-events: none;
}
output b {
  display: block;
  font-size: 12px;
  font-weight: 640;
  color: var(--ink);
}
.ring {
  position: absolute;
  right: 0;
  top: -3px;
  width: 48px;
  height: 25px;
  fill: none;
  stroke: var(--denim);
  stroke-width: 1.5;
  pointer-events: none;
}
</style>
