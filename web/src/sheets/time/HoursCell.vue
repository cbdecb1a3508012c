<script setup lang="ts">
import { useDebounceFn } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { answered, client } from '@/api/client'
import { figure } from '@/parts/figures'
import type { Outgoing } from '@/book/outbox'
import type { Cell } from './lines'

/** One day of a line: shows decimal hours, takes hours as people write them, and reads back what it understood. */
const props = defineProps<{
  cell: Cell
  worker: number
  label: string
  unsaved?: Outgoing
  here?: boolean
  marked?: boolean
  ringed?: boolean
  /** What is being typed into it. */
  typed?: string
  inside?: boolean
}>()
const emit = defineEmits<{ 'update:typed': [text: string]; leave: [] }>()
const reading = ref<{ hours: string; reading: string; overtime?: string }>()
const typing = computed(() => props.typed !== undefined)
const text = computed(() =>
  props.unsaved ? props.unsaved.edit.text : props.cell.entries > 1 ? props.cell.hours : figure(props.cell.hours),
)
/** What is not seen as a figure, for a screen reader at this cell. */
const state = computed(() => {
  const what = text.value ? '' : props.cell.hole ? 'a hole, the rest of the crew worked' : 'no hours'
  const saved = props.unsaved?.said || (props.unsaved ? 'not saved yet' : props.cell.locked)
  return [what, saved, props.cell.note].filter(Boolean).join(', ')
})

const read = useDebounceFn(async () => {
  const asked = props.typed?.trim()
  if (!asked) return
  const query = { worker: props.worker, date: props.cell.date, text: asked, entry: props.cell.entryId ?? 0 }
  try {
    const answer = await answered(client.GET('/api/time/reading', { params: { query } }))
    if (props.typed?.trim() === asked) reading.value = answer
  } catch {
    reading.value = undefined
  }
}, 120)
watch(
  () => props.typed,
  () => {
    reading.value = undefined
    if (typing.value) void read()
  },
)
</script>

<template>
  <td
    class="day"
    :class="{
      bad: unsaved?.said,
      waits: unsaved && !unsaved.said,
      hole: cell.hole && !text,
      locked: cell.locked,
      here,
      marked,
    }"
    :tabindex="here ? 0 : -1"
    :aria-selected="marked || undefined"
    :data-value="text"
    :aria-readonly="!!cell.locked || undefined"
    :title="cell.locked || [cell.reading, cell.note].filter(Boolean).join('; ')"
  >
    <input
      v-if="typing"
      :value="typed"
      :aria-label="label"
      :aria-invalid="!!unsaved?.said"
      autocomplete="off"
      inputmode="text"
      @input="emit('update:typed', ($event.target as HTMLInputElement).value)"
      @blur="emit('leave')"
    />
    <span v-if="here && !typing" class="sr">{{ label }}: </span>
    <span v-if="!typing" class="figure">{{ text }}</span>
    <span v-if="cell.overtime && !typing && !unsaved" class="over"
      ><span v-if="here" class="sr">, of it overtime </span>{{ figure(cell.overtime) }}</span
    >
    <span v-if="here && !typing && state" class="sr">{{ state }}</span>
    <i v-if="cell.note" class="noted" aria-hidden="true"></i>
    <em v-if="cell.hole && !typing && !text" aria-hidden="true">hole</em>
    <svg v-if="ringed" class="ring" viewBox="0 0 48 25" aria-hidden="true">
      <path d="M8 5C18 0 40 1 45 9c4 8-8 14-24 13C7 21 1 17 3 11 5 6 16 3 30 3" />
    </svg>
    <output v-if="reading && typing"
      ><b>{{ figure(reading.hours) }} h</b
      >{{ reading.overtime ? `${figure(reading.overtime)} over` : reading.reading.split(',')[0] }}</output
    >
  </td>
</template>

<style scoped>
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
.noted {
  position: absolute;
  right: 0;
  top: 0;
  border: 4px solid transparent;
  border-top-color: var(--denim);
  border-right-color: var(--denim);
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
  text-align: left;
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
