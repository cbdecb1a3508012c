<script setup lang="ts">
import { mdiLockOutline, mdiPauseCircleOutline } from '@mdi/js'
import { computed, ref } from 'vue'
import Amount from '@/parts/Amount.vue'
import EntryGrid from '@/parts/EntryGrid.vue'
import Icon from '@/parts/Icon.vue'
import Trail from '@/parts/Trail.vue'
import type { Edit, GridColumn, How } from '@/parts/entryGrid'
import { counted, dayNumber, shortDay, weekday } from '@/parts/figures'
import { useOutbox, type SavedCell } from '@/book/outbox'
import type { crewActs } from './acts'
import HoursCell from './HoursCell.vue'
import { entriesOf, namesLines, type Sheet, type SheetLine } from './lines'
import WrongCell from './WrongCell.vue'

/** The crew sheet as a ledger: lines of worker and job, the days of the week, totals. */
const props = defineProps<{
  sheet: Sheet
  lines: SheetLine[]
  acts: ReturnType<typeof crewActs>
  today: string
  money: boolean
  narrow: boolean
  shownEntry?: number
  /** Whether the entry under the cursor stands open under its line. */
  more: boolean
}>()
const emit = defineEmits<{
  at: [line: SheetLine | undefined, day: number]
  say: [text: string]
  names: [rows: string[][]]
  workings: []
}>()
const outbox = useOutbox()
const grid = ref<{ goTo: (key: string, date?: string) => void; focus: () => void }>()
const showMoney = computed(() => props.money && !props.narrow)
const days = computed(() => props.sheet.days ?? [])
const dayOf = (date: string) => days.value.indexOf(date)
const cellOf = (line: SheetLine, date: string) => line.cells![dayOf(date)]!

const place = (l: SheetLine) =>
  [l.phase?.name, [l.costCode?.name, l.costCode?.code].filter(Boolean).join(' · ')].filter(Boolean).join(' · ')
const isLeave = (l: SheetLine) => l.payClass === 'leave'
const terms = (l: SheetLine) =>
  [l.payClass === 'auto' || isLeave(l) ? '' : l.payClass, l.ownRate ? 'own rate' : ''].filter(Boolean).join(', ')
const jobOf = (l: SheetLine) => `${l.job.code} ${l.job.name}`
const isLocked = (l: SheetLine) => !!l.locked && !!l.hours
const chargeOf = (l: SheetLine) => (isLeave(l) || l.costOnly ? 'cost only' : l.noRate ? 'no rate' : l.charge)

const columns = computed<GridColumn<SheetLine>[]>(() => {
  const dayColumns = days.value.map((date) => ({
    id: date,
    label: `${weekday(date)} ${dayNumber(date)}`,
    typed: true,
    width: dayOf(date) > 4 ? 47 : 51,
    sum: props.sheet.dayHours?.[dayOf(date)],
    head: date === props.today ? 'day-head on' : 'day-head',
  }))
  const figures = (...of: GridColumn<SheetLine>[]) => (showMoney.value ? of : [])
  return [
    {
      id: 'worker',
      label: 'Worker',
      width: 112,
      value: (l) => [l.worker.name, l.worker.sub, l.hired && 'hired'].filter(Boolean).join(', '),
      same: (a, b) => a.worker.id === b.worker.id,
      sum: props.sheet.crew || 'All crews',
    },
    {
      id: 'job',
      label: 'Job, phase, code',
      value: (l) => [isLeave(l) && 'leave', jobOf(l), place(l), terms(l)].filter(Boolean).join(', '),
      sum: counted(props.lines.length, 'line'),
    },
    { id: 'bill', label: 'Bill', kind: 'mark', width: 34, value: (l) => (l.billable ? 'yes' : 'no') },
    ...dayColumns,
    {
      id: 'total',
      label: 'Total',
      kind: 'figure',
      rule: true,
      width: 56,
      value: (l) => l.hours,
      tone: () => 'strong',
      sum: props.sheet.hours || '0',
    },
    ...figures(
      {
        id: 'over',
        label: 'Over',
        kind: 'figure',
        width: 44,
        value: (l) => l.overtime,
        sum: props.sheet.overtime || '0',
      },
      {
        id: 'cost',
        label: 'Cost',
        kind: 'figure',
        rule: true,
        width: 80,
        value: (l) => (l.noWage ? 'no wage' : l.hours && l.cost),
        sum: props.sheet.cost,
      },
      {
        id: 'charge',
        label: 'Charge',
        kind: 'figure',
        width: 80,
        value: (l) => (l.hours ? chargeOf(l) : ''),
        sum: props.sheet.charge,
      },
    ),
    { id: 'trail', label: 'Trail', kind: 'mark', width: 42 },
  ]
})

const unsavedOf = (line: SheetLine, date: string) => outbox.unsaved.get(`${line.key}|${date}`)
const wrongOf = (line: SheetLine) => days.value.map((date) => unsavedOf(line, date)).find((item) => item?.said)
const textAt = (line: SheetLine, date: string) => unsavedOf(line, date)?.edit.text ?? cellOf(line, date).text
/** As other programs read it: decimal hours. */
const hoursAt = (line: SheetLine, date: string) => cellOf(line, date).hours

/** The entry that was in the cell when the typing began. */
let seen: SavedCell
function opens(line: SheetLine, date: string): boolean {
  const { entryId, version, locked } = cellOf(line, date)
  seen = { entryId, version }
  if (locked) emit('say', `This can't be changed: it is ${locked}`)
  return !locked
}
function set(edits: Edit<SheetLine>[], how: How) {
  const cells = edits.map((e) => ({ line: e.row, day: dayOf(e.column), text: e.text }))
  if (how === 'typed') props.acts.type(cells[0]!.line, cells[0]!.day, cells[0]!.text, seen)
  else props.acts.set(cells, how)
}
function takes(rows: string[][]): boolean {
  if (namesLines(rows)) emit('names', rows)
  return namesLines(rows)
}
function openLine(line: SheetLine) {
  grid.value?.goTo(line.key, line.cells?.find((c) => c.entryId)?.date)
  emit('workings')
}
defineExpose({ goTo: (key: string, date?: string) => grid.value?.goTo(key, date), focus: () => grid.value?.focus() })
</script>

<template>
  <EntryGrid
    ref="grid"
    class="crew"
    label="Crew sheet"
    :columns="columns"
    :rows="lines"
    :row-key="(l) => l.key"
    :text="textAt"
    :copies="hoursAt"
    :opens="opens"
    :takes="takes"
    :row-class="(l) => (isLocked(l) ? 'locked' : '')"
    :wrong="(l) => !!wrongOf(l)"
    :more="more"
    @set="set"
    @at="(line, date) => emit('at', line, dayOf(date))"
    @beyond="(rows) => emit('say', `${counted(rows, 'row')} of it found no line; add the lines first`)"
  >
    <template #head="{ column }"
      >{{ weekday(column.id) }} <b>{{ dayNumber(column.id) }}</b></template
    >
    <template #cell-worker="{ row: l }"
      ><span class="two"
        ><span class="strong">{{ l.worker.name }}</span
        ><small>{{ l.worker.sub }}{{ l.hired ? ' · hired' : '' }}</small></span
      ></template
    >
    <template #cell-job="{ row: l }"
      ><span class="two" :title="`${jobOf(l)}, ${place(l)}`"
        ><span>{{ jobOf(l) }}</span
        ><small
          ><b v-if="isLeave(l)" class="leave" title="Paid and not worked"
            ><Icon :path="mdiPauseCircleOutline" :size="12" /> leave</b
          ><template v-if="isLeave(l) && place(l)"> · </template>{{ place(l) || (isLeave(l) ? '' : 'no code')
          }}<b v-if="terms(l)"> · {{ terms(l) }}</b></small
        ></span
      ></template
    >
    <template #cell-bill="{ row: l }"
      ><span v-if="isLocked(l)" :title="l.cells?.find((c) => c.locked)?.locked"
        ><Icon :path="mdiLockOutline" :size="14" /><span class="sr">locked</span></span
      ><span v-else-if="isLeave(l)" class="soft" title="Leave is billed to nobody">–</span
      ><input
        v-else
        type="checkbox"
        class="box"
        tabindex="-1"
        :checked="l.billable"
        :aria-label="`${l.worker.name} on ${l.job.code} billable`"
        @change="acts.billable(l, ($event.target as HTMLInputElement).checked)"
    /></template>
    <template #entry="{ row: l, column: date, cell }"
      ><HoursCell
        :cell="cell"
        :day="cellOf(l, date)"
        :worker="l.worker.id"
        :label="`${l.worker.name}, ${l.job.code}, ${weekday(date)} ${dayNumber(date)}`"
        :unsaved="unsavedOf(l, date)"
        :ringed="!!shownEntry && cellOf(l, date).entryId === shownEntry"
    /></template>
    <template #cell-cost="{ row: l }"
      ><button v-if="l.hours" class="opens-workings" tabindex="-1" @click="openLine(l)">
        <span v-if="l.noWage" class="warnword">no wage</span><Amount v-else :of="l.cost" />
        <span class="sr">, workings of {{ l.worker.name }} on {{ l.job.code }}</span>
      </button></template
    >
    <template #cell-charge="{ row: l }"
      ><span v-if="l.hours && chargeOf(l) !== l.charge" :class="l.costOnly ? 'soft' : 'warnword'">{{
        chargeOf(l)
      }}</span
      ><Amount v-else-if="l.hours" :of="l.charge"
    /></template>
    <template #cell-trail="{ row: l }"
      ><Trail v-if="l.hours" :trail="l.trail" kind="time_entry" :ids="entriesOf(l)"
    /></template>
    <template #wrong="{ row: l }"
      ><WrongCell :item="wrongOf(l)!" :day="shortDay(wrongOf(l)!.edit.date)" @done="grid?.focus()"
    /></template>
    <template #more="{ row: l, column: date, columns: wide }"
      ><slot name="more" :line="l" :day="dayOf(date)" :columns="wide"
    /></template>
    <template #last="{ columns: wide }"><slot name="add" :columns="wide" /></template>
  </EntryGrid>
</template>

<style scoped>
.crew :deep(:is(th, td):not(:first-child, .entry)) {
  padding: 0 7px;
}
.crew :deep(:is(.day-head, tfoot .num:not(.money, .money ~ td))) {
  padding-right: 9px;
}
.crew :deep(td:not(.entry, :first-child)) {
  font-size: 0.8125rem;
}
.crew :deep(thead .day-head) {
  padding: 0 9px 0 0;
  text-overflow: clip;
}
.crew :deep(.day-head) {
  border-left: 1px solid var(--rule-faint);
}
.crew :deep(.day-head b) {
  color: var(--ink);
  font-weight: 640;
}
.crew :deep(thead .day-head.on) {
  box-shadow: inset 0 -3px 0 var(--denim);
}
.crew :deep(.locked > td:not(:first-child)) {
  background: var(--paper-back);
}
.leave {
  white-space: nowrap;
}
.leave :deep(svg) {
  vertical-align: -2px;
}
.opens-workings:hover {
  text-decoration: underline;
}
</style>
