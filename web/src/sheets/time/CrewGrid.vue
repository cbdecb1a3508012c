<script setup lang="ts">
import { mdiLockOutline } from '@mdi/js'
import { useMediaQuery } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import Amount from '@/parts/Amount.vue'
import Icon from '@/parts/Icon.vue'
import Trail from '@/parts/Trail.vue'
import { counted, dayNumber, figure, shortDay, weekday } from '@/parts/figures'
import { useOutbox, type SavedCell } from '@/book/outbox'
import type { crewActs } from './acts'
import { copyBlock, namesLines, pastedBlock } from './clipboard'
import { inCell, useGrid } from './grid'
import HoursCell from './HoursCell.vue'
import { entriesOf, type Sheet, type SheetLine } from './lines'
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
  command: [letter: string, line: SheetLine | undefined]
  names: [rows: string[][]]
  workings: []
}>()
const outbox = useOutbox()
const body = ref<HTMLElement>()
/** A phone shows one day of the week, chosen above the lines. */
const phone = useMediaQuery('(max-width: 720px)')
const phoneDay = ref(Math.max(0, props.sheet.days?.indexOf(props.today) ?? 0))
const showMoney = computed(() => props.money && !props.narrow && !phone.value)
const days = computed(() => (phone.value ? [phoneDay.value] : [0, 1, 2, 3, 4, 5, 6]))
const columns = computed(() => (phone.value ? 3 : showMoney.value ? 15 : 12))

/** The entry that was in the cell when the typing began, and the line that it is on, wherever that stands by now. */
let seen: SavedCell
let onto: SheetLine | undefined
/** While something is typed the lines stay where they are; what others add comes after them. */
const order = ref<string[]>()
const shown = computed(() => {
  const rank = new Map(order.value?.map((key, i) => [key, i]))
  const at = (l: SheetLine) => rank.get(l.key) ?? rank.size
  return order.value ? [...props.lines].sort((a, b) => at(a) - at(b)) : props.lines
})
const grid = useGrid(shown, ref(7), body, {
  key: (row) => shown.value[row]!.key,
  type: (_, text) => {
    const line = props.lines.find((l) => l.key === onto?.key) ?? onto
    const at = grid.cursor.value
    const refused = line && unsavedOf(line, at.col)?.said
    if (line && (refused || text.trim() !== textAt(line, at.col))) props.acts.type(line, at.col, text, seen)
  },
  text: (at) => textAt(shown.value[at.row]!, at.col),
  clear: (block) => props.acts.clear(block),
  fill: (block, along) => props.acts.fillAlong(block, along),
  open: (at) => {
    onto = shown.value[at.row]
    const found = onto?.cells?.[at.col]
    seen = { entryId: found?.entryId, version: found?.version }
    const locked = found?.locked
    if (locked) emit('say', `This can't be changed: it is ${locked}`)
    return !!onto && !locked
  },
  command: (letter) => {
    if (!['f', 'b', 't', 'w', 'r', 'n'].includes(letter)) return false
    emit('command', letter, here.value)
    return true
  },
})
const { cursor, typed } = grid
watch(
  () => typed.value !== undefined,
  (typing) => (order.value = typing ? props.lines.map((l) => l.key) : undefined),
  { flush: 'sync' },
)
const unsavedOf = (line: SheetLine, day: number) => outbox.unsaved.get(`${line.key}|${line.cells![day]!.date}`)
function textAt(line: SheetLine, day: number): string {
  return unsavedOf(line, day)?.edit.text ?? line.cells![day]!.text
}

const first = (i: number) => i === 0 || shown.value[i - 1]!.worker.id !== shown.value[i]!.worker.id
const wrongOf = (line: SheetLine) => (line.cells ?? []).map((_, day) => unsavedOf(line, day)).find((item) => item?.said)
const span = (i: number) => {
  let end = i + 1
  while (end < shown.value.length && !first(end)) end++
  const rows = shown.value.slice(i, end)
  const open = props.more && rows.some((l) => l.key === here.value?.key) ? 1 : 0
  return rows.length + rows.filter(wrongOf).length + open
}
const place = (l: SheetLine) =>
  [l.phase?.name, [l.costCode?.name, l.costCode?.code].filter(Boolean).join(' · ')].filter(Boolean).join(' · ')
const terms = (l: SheetLine) =>
  [l.payClass === 'auto' ? '' : l.payClass, l.ownRate ? 'own rate' : ''].filter(Boolean).join(', ')
const here = computed(() => shown.value[cursor.value.row])
watch([here, () => cursor.value.col], () => emit('at', here.value, cursor.value.col), { immediate: true })

function copy(event: ClipboardEvent) {
  if (typed.value !== undefined || !inCell(event)) return
  const { hours, typed: asTyped } = props.acts.texts(grid.block.value)
  copyBlock(event, hours, asTyped)
  if (event.type === 'cut') props.acts.clear(grid.block.value)
}
function paste(event: ClipboardEvent) {
  if (typed.value !== undefined || !inCell(event)) return
  event.preventDefault()
  const rows = pastedBlock(event)
  if (namesLines(rows)) emit('names', rows)
  else emit('say', props.acts.paste(rows, grid.block.value))
}
function openLine(i: number) {
  const day = shown.value[i]!.cells?.findIndex((c) => c.entryId) ?? 0
  grid.go({ row: i, col: Math.max(0, day) })
  emit('workings')
}
function goTo(key: string, day: number) {
  const row = shown.value.findIndex((l) => l.key === key)
  if (row >= 0) grid.go({ row, col: day })
}
defineExpose({ goTo, focus: grid.focus })
</script>

<template>
  <div v-if="phone" class="pick-day" role="group" aria-label="Day">
    <button v-for="(d, i) in sheet.days" :key="d" :aria-pressed="i === phoneDay" @click="phoneDay = i">
      <span>{{ weekday(d) }} {{ dayNumber(d) }}</span
      ><b>{{ figure(sheet.dayHours?.[i]) || '·' }}</b>
    </button>
  </div>
  <table class="ledger crew" role="grid" aria-label="Crew sheet" aria-multiselectable="true">
    <colgroup>
      <col :style="{ width: phone ? '104px' : '112px' }" />
      <col />
      <col v-if="!phone" style="width: 34px" />
      <col v-for="d in days" :key="d" :style="{ width: phone ? '86px' : d > 4 ? '47px' : '51px' }" />
      <col v-if="!phone" style="width: 56px" />
      <template v-if="showMoney"
        ><col style="width: 44px" />
        <col style="width: 80px" />
        <col style="width: 80px"
      /></template>
      <col v-if="!phone" style="width: 42px" />
    </colgroup>
    <thead>
      <tr>
        <th scope="col">Worker</th>
        <th scope="col">Job, phase, code</th>
        <th v-if="!phone" scope="col" class="mk">Bill</th>
        <th
          v-for="d in days.map((at) => sheet.days![at]!)"
          :key="d"
          scope="col"
          class="num d"
          :class="{ on: d === today }"
        >
          {{ weekday(d) }} <b>{{ dayNumber(d) }}</b>
        </th>
        <th v-if="!phone" scope="col" class="num money">Total</th>
        <template v-if="showMoney">
          <th scope="col" class="num">Over</th>
          <th scope="col" class="num money">Cost</th>
          <th scope="col" class="num">Charge</th>
        </template>
        <th v-if="!phone" scope="col" class="mk">Trail</th>
      </tr>
    </thead>
    <tbody
      ref="body"
      @keydown="grid.key"
      @focusin="grid.focused.value = inCell($event)"
      @focusout="grid.focused.value = false"
      @copy="copy"
      @cut="copy"
      @paste="paste"
    >
      <template v-for="(line, i) in shown" :key="line.key">
        <tr
          :data-line="i"
          :class="{ locked: line.locked && line.hours, chosen: cursor.row === i && grid.focused.value }"
        >
          <td v-if="first(i)" class="worker" :rowspan="span(i)">
            <span class="two"
              ><span class="strong">{{ line.worker.name }}</span
              ><small>{{ line.worker.sub }}{{ line.hired ? ' · hired' : '' }}</small></span
            >
          </td>
          <td :title="`${line.job.code} ${line.job.name}, ${place(line)}`">
            <span class="two"
              ><span>{{ line.job.code }} {{ line.job.name }}</span
              ><small
                >{{ place(line) || 'no code' }}<b v-if="terms(line)"> · {{ terms(line) }}</b></small
              ></span
            >
          </td>
          <td v-if="!phone" class="mk">
            <span v-if="line.locked && line.hours" :title="line.cells?.find((c) => c.locked)?.locked"
              ><Icon :path="mdiLockOutline" :size="14" /><span class="sr">locked</span></span
            >
            <input
              v-else
              type="checkbox"
              class="box"
              tabindex="-1"
              :checked="line.billable"
              :aria-label="`${line.worker.name} on ${line.job.code} billable`"
              @change="acts.billable(line, ($event.target as HTMLInputElement).checked)"
            />
          </td>
          <HoursCell
            v-for="{ d, cell } in days.map((d) => ({ d, cell: line.cells![d]! }))"
            :key="cell.date"
            :cell="cell"
            :data-day="d"
            :worker="line.worker.id"
            :label="`${line.worker.name}, ${line.job.code}, ${weekday(cell.date)} ${dayNumber(cell.date)}`"
            :unsaved="unsavedOf(line, d)"
            :here="cursor.row === i && cursor.col === d"
            :marked="grid.isMarked(i, d)"
            :typed="cursor.row === i && cursor.col === d ? typed : undefined"
            :ringed="!!shownEntry && cell.entryId === shownEntry"
            @update:typed="typed = $event"
            @leave="grid.take()"
            @mousedown="grid.point({ row: i, col: d }, $event)"
            @mouseenter="grid.drag({ row: i, col: d }, $event)"
          />
          <td v-if="!phone" class="num money strong">{{ figure(line.hours) }}</td>
          <template v-if="showMoney">
            <td class="num">{{ figure(line.overtime) }}</td>
            <td class="num money">
              <button v-if="line.hours" class="open" tabindex="-1" @click="openLine(i)">
                <span v-if="line.noWage" class="warnword">no wage</span><Amount v-else :of="line.cost" />
                <span class="sr">, workings of {{ line.worker.name }} on {{ line.job.code }}</span>
              </button>
            </td>
            <td class="num">
              <span v-if="line.costOnly && line.hours" class="soft">cost only</span>
              <span v-else-if="line.noRate && line.hours" class="warnword">no rate</span>
              <Amount v-else-if="line.hours" :of="line.charge" />
            </td>
          </template>
          <td v-if="!phone" class="mk">
            <Trail v-if="line.hours" :trail="line.trail" kind="time_entry" :ids="entriesOf(line)" />
          </td>
        </tr>
        <tr v-if="wrongOf(line)">
          <td class="error-line" :colspan="columns - 1">
            <WrongCell :item="wrongOf(line)!" :day="shortDay(wrongOf(line)!.edit.date)" @done="grid.focus()" />
          </td>
        </tr>
        <slot v-if="more && cursor.row === i" name="more" :line="line" :day="cursor.col" :columns="columns - 1" />
      </template>
      <slot name="add" :columns="columns" />
    </tbody>
    <tfoot>
      <tr>
        <th scope="row">{{ sheet.crew || 'All crews' }}</th>
        <td>{{ counted(lines.length, 'line') }}</td>
        <td v-if="!phone"></td>
        <td v-for="d in days" :key="d" class="num">{{ figure(sheet.dayHours?.[d]) }}</td>
        <template v-if="!phone">
          <td class="num money">{{ figure(sheet.hours) || '0' }}</td>
          <template v-if="showMoney">
            <td class="num">{{ figure(sheet.overtime) || '0' }}</td>
            <td class="num money"><Amount :of="sheet.cost" /></td>
            <td class="num"><Amount :of="sheet.charge" /></td>
          </template>
          <td></td>
        </template>
      </tr>
    </tfoot>
  </table>
</template>

<style scoped>
.pick-day {
  display: flex;
  border-bottom: 1px solid var(--rule);
}
.pick-day button {
  flex: 1;
  display: grid;
  justify-items: center;
  padding: 6px 2px 8px;
  font-size: 12px;
  color: var(--ink-soft);
  line-height: 18px;
}
.pick-day b {
  font-size: 14px;
  color: var(--ink);
}
.pick-day [aria-pressed='true'] {
  background: var(--denim-wash);
  box-shadow: inset 0 -3px 0 var(--denim);
}
@media (max-width: 720px) {
  .crew tbody td {
    height: 44px;
    vertical-align: middle;
  }
}
.crew :is(th, td):not(.worker, .day) {
  padding: 0 7px;
}
.crew tfoot .num:not(.money, .money ~ td) {
  padding-right: 9px;
}
.crew :is(thead th, tfoot th):first-child {
  padding-left: 16px;
}
.crew .worker.worker {
  padding-left: 16px;
  vertical-align: top;
  padding-top: 2px;
}
.crew td:not(.day, .worker) {
  font-size: 13px;
}
.crew thead .d {
  padding: 0 9px 0 0;
  text-overflow: clip;
}
.d {
  border-left: 1px solid var(--rule-faint);
}
.d b {
  color: var(--ink);
  font-weight: 640;
}
.d.on {
  box-shadow: inset 0 -3px 0 var(--denim);
}
.locked > td:not(.worker) {
  background: var(--paper-back);
}
tr.chosen > td.worker {
  background: none;
}
.open:hover {
  text-decoration: underline;
}
</style>
