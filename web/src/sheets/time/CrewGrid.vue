<script setup lang="ts">
import { mdiLockOutline } from '@mdi/js'
import { computed, ref } from 'vue'
import Amount from '@/parts/Amount.vue'
import Icon from '@/parts/Icon.vue'
import Trail from '@/parts/Trail.vue'
import { counted, dayNumber, figure, weekday } from '@/parts/figures'
import type { Sheet, SheetLine } from './crewSheet'
import HoursCell from './HoursCell.vue'

/** The crew sheet as a ledger: lines of worker and job, the days of the week, totals. */
const props = defineProps<{
  sheet: Sheet
  lines: SheetLine[]
  wrong: Map<string, { text: string; said: string }>
  today: string
  money: boolean
  narrow: boolean
  shownEntry?: number
}>()
const emit = defineEmits<{
  type: [line: SheetLine, day: number, text: string]
  billable: [line: SheetLine, value: boolean]
  entry: [entry: number | undefined]
  workings: []
}>()

const first = (i: number) => i === 0 || props.lines[i - 1]!.worker.id !== props.lines[i]!.worker.id
const span = (i: number) => {
  const rows = props.lines.filter((l) => l.worker.id === props.lines[i]!.worker.id)
  return rows.length + rows.filter((l) => problem(l)).length
}
const problem = (line: SheetLine) => {
  for (const cell of line.cells ?? []) {
    const found = props.wrong.get(`${line.key}|${cell.date}`)
    if (found) return found.said
  }
  return undefined
}
const place = (l: SheetLine) =>
  [l.phase?.name, [l.costCode?.name, l.costCode?.code].filter(Boolean).join(' · ')].filter(Boolean).join(' · ')
const at = ref<{ line: number; day: number }>()
const body = ref<HTMLElement>()
const showMoney = computed(() => props.money && !props.narrow)

function focusCell(line: number, day: number) {
  at.value = { line, day }
  emit('entry', props.lines[line]?.cells?.[day]?.entryId)
}
function move(line: number, day: number, by: 'up' | 'down') {
  const next = body.value?.querySelector<HTMLInputElement>(
    `[data-line="${line + (by === 'down' ? 1 : -1)}"] td[data-day="${day}"] input`,
  )
  next?.focus()
}
function openLine(line: SheetLine) {
  emit('entry', line.cells?.find((c) => c.entryId)?.entryId)
  emit('workings')
}
</script>

<template>
  <table class="ledger crew" aria-label="Crew sheet">
    <colgroup>
      <col style="width: 112px" />
      <col />
      <col style="width: 34px" />
      <col v-for="d in 7" :key="d" :style="{ width: d > 5 ? '47px' : '51px' }" />
      <col style="width: 56px" />
      <template v-if="showMoney"
        ><col style="width: 44px" />
        <col style="width: 80px" />
        <col style="width: 80px"
      /></template>
      <col style="width: 42px" />
    </colgroup>
    <thead>
      <tr>
        <th scope="col">Worker</th>
        <th scope="col">Job, phase, code</th>
        <th scope="col" class="mk">Bill</th>
        <th v-for="d in sheet.days" :key="d" scope="col" class="num d" :class="{ on: d === today }">
          {{ weekday(d) }} <b>{{ dayNumber(d) }}</b>
        </th>
        <th scope="col" class="num money">Total</th>
        <template v-if="showMoney">
          <th scope="col" class="num">Over</th>
          <th scope="col" class="num money">Cost</th>
          <th scope="col" class="num">Charge</th>
        </template>
        <th scope="col" class="mk">Trail</th>
      </tr>
    </thead>
    <tbody ref="body">
      <template v-for="(line, i) in lines" :key="line.key">
        <tr :data-line="i" :class="{ locked: line.locked && line.hours, chosen: at?.line === i }">
          <td v-if="first(i)" class="worker" :rowspan="span(i)">
            <span class="two"
              ><span class="strong">{{ line.worker.name }}</span
              ><small>{{ line.worker.sub }}</small></span
            >
          </td>
          <td :title="`${line.job.code} ${line.job.name}, ${place(line)}`">
            <span class="two"
              ><span>{{ line.job.code }} {{ line.job.name }}</span
              ><small>{{ place(line) || 'no code' }}</small></span
            >
          </td>
          <td class="mk">
            <span v-if="line.locked && line.hours" :title="line.cells?.find((c) => c.locked)?.locked"
              ><Icon :path="mdiLockOutline" :size="14" /><span class="sr">locked</span></span
            >
            <input
              v-else
              type="checkbox"
              class="box"
              :checked="line.billable"
              :aria-label="`${line.worker.name} on ${line.job.code} billable`"
              @change="emit('billable', line, ($event.target as HTMLInputElement).checked)"
            />
          </td>
          <HoursCell
            v-for="(cell, d) in line.cells"
            :key="cell.date"
            :cell="cell"
            :data-day="d"
            :worker="line.worker.id"
            :label="`${line.worker.name}, ${line.job.code}, ${weekday(cell.date)} ${dayNumber(cell.date)}`"
            :wrong="wrong.get(`${line.key}|${cell.date}`)"
            :ringed="!!shownEntry && cell.entryId === shownEntry"
            @type="emit('type', line, d, $event)"
            @focus="focusCell(i, d)"
            @move="move(i, d, $event)"
          />
          <td class="num money strong">{{ figure(line.hours) }}</td>
          <template v-if="showMoney">
            <td class="num">{{ figure(line.overtime) }}</td>
            <td class="num money">
              <button v-if="line.hours" class="open" @click="openLine(line)">
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
          <td class="mk"><Trail v-if="line.hours" :trail="line.trail" /></td>
        </tr>
        <tr v-if="problem(line)">
          <td class="error-line" role="alert" :colspan="showMoney ? 14 : 11">{{ problem(line) }}</td>
        </tr>
      </template>
      <slot name="add" :columns="showMoney ? 15 : 12" />
    </tbody>
    <tfoot>
      <tr>
        <th scope="row">{{ sheet.crew || 'All crews' }}</th>
        <td>{{ counted(lines.length, 'line') }}</td>
        <td></td>
        <td v-for="(h, d) in sheet.dayHours" :key="d" class="num">{{ figure(h) }}</td>
        <td class="num money">{{ figure(sheet.hours) || '0' }}</td>
        <template v-if="showMoney">
          <td class="num">{{ figure(sheet.overtime) || '0' }}</td>
          <td class="num money"><Amount :of="sheet.cost" /></td>
          <td class="num"><Amount :of="sheet.charge" /></td>
        </template>
        <td></td>
      </tr>
    </tfoot>
  </table>
</template>

<style scoped>
.crew :is(th, td):not(:first-child) {
  padding: 0 7px;
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
