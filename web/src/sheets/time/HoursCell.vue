<script setup lang="ts">
import { computed } from 'vue'
import EntryCell from '@/parts/EntryCell.vue'
import type { CellAt } from '@/parts/entryGrid'
import { figure } from '@/parts/figures'
import type { Outgoing } from '@/book/outbox'
import HoursReading from './HoursReading.vue'
import type { Cell } from './lines'

/** One day of a line: shows decimal hours, takes hours as people write them, and reads back what it understood. */
const props = defineProps<{
  cell: CellAt
  day: Cell
  worker: number
  label: string
  unsaved?: Outgoing
  ringed?: boolean
}>()
const typing = computed(() => props.cell.typed !== undefined)
const text = computed(() =>
  props.unsaved ? props.unsaved.edit.text : props.day.entries > 1 ? props.day.hours : figure(props.day.hours),
)
/** What is not seen as a figure, for a screen reader at this cell. */
const state = computed(() => {
  const what = text.value ? '' : props.day.hole ? 'missing day, the rest of the crew worked' : 'no hours'
  const saved = props.unsaved?.said || (props.unsaved ? 'not saved yet' : props.day.locked)
  return [what, saved, props.day.note].filter(Boolean).join(', ')
})
</script>

<template>
  <EntryCell
    :cell="cell"
    :label="label"
    :text="text"
    :state="state"
    :bad="!!unsaved?.said"
    :waits="!!unsaved && !unsaved.said"
    :locked="!!day.locked"
    :class="{ hole: day.hole && !text }"
    :title="day.locked || [day.reading, day.note].filter(Boolean).join('; ')"
  >
    <template v-if="!typing">
      <span v-if="day.overtime && !unsaved" class="over"
        ><span v-if="cell.here" class="sr">, of it overtime </span>{{ figure(day.overtime) }}</span
      >
      <em v-if="day.hole && !text" aria-hidden="true">missing</em>
    </template>
    <i v-if="day.note" class="noted" aria-hidden="true"></i>
    <svg v-if="ringed" class="ring" viewBox="0 0 48 25" aria-hidden="true">
      <path d="M8 5C18 0 40 1 45 9c4 8-8 14-24 13C7 21 1 17 3 11 5 6 16 3 30 3" />
    </svg>
    <HoursReading v-if="typing" :text="cell.typed!" :worker="worker" :date="day.date" :entry="day.entryId" />
  </EntryCell>
</template>

<style scoped>
.over {
  position: absolute;
  right: 9px;
  bottom: 1px;
  display: inline-flex;
  align-items: center;
  gap: 2.5px;
  font-size: 0.65625rem;
  line-height: 0.6875rem;
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
  font-size: 0.6875rem;
  color: var(--ochre-ink);
  font-weight: 560;
  pointer-events: none;
}
.ring {
  position: absolute;
  right: 0;
  top: -3px;
  width: 3rem;
  height: 1.5625rem;
  fill: none;
  stroke: var(--denim);
  stroke-width: 1.5;
  pointer-events: none;
}
</style>
