<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue'
import { answered, client } from '@/api/client'
import Await from '@/parts/Await.vue'
import EntryCell from '@/parts/EntryCell.vue'
import EntryGrid from '@/parts/EntryGrid.vue'
import type { Edit, GridColumn, How } from '@/parts/entryGrid'
import { counted, day as weekDay, shortDay, sumOf } from '@/parts/figures'
import { useFooting } from '@/book/footing'
import { useOutbox, type Place } from '@/book/outbox'
import { useScope } from '@/book/scope'
import { useSession } from '@/book/session'
import { useUndo } from '@/book/undo'
import { crewActs } from './acts'
import AddPlace from './AddPlace.vue'
import { useCrewSheet, type Change } from './crewSheet'
import DayBar from './DayBar.vue'
import DayFoot from './DayFoot.vue'
import { dayPlaces, hoursOf, minutesOf, placeKey } from './day'
import FirstHours from './FirstHours.vue'
import { useHandOver } from './handOver'
import HoursCell from './HoursCell.vue'
import { lineOn, type SheetLine } from './lines'
import MoreMenu from './MoreMenu.vue'
import TimeHead from './TimeHead.vue'
import { clockParts, useWorkdays, type ClockPart, type WorkerDay } from './workdays'
import WrongCell from './WrongCell.vue'

/** A crew's day as it comes in on paper: workers down, when they were at work, and the day's jobs across. */
const scope = useScope()
const session = useSession()
const footing = useFooting()
const outbox = useOutbox()
const crewSheet = useCrewSheet(scope)
const { sheet, lines, crew } = crewSheet
const choices = scope.choices
const acts = crewActs(crewSheet, () => choices.value)
const date = computed(() => scope.at.value)
const workdays = useWorkdays(computed(() => ({ date: date.value, crew: crew.value })))
const money = computed(() => session.can('money'))
const said = ref('')
const handOver = useHandOver(crewSheet, () => workdays.drafts.size > 0)
const { asks, handing } = handOver
const busy = ref(false)
const added = ref<Omit<Place, 'worker'>[]>([])
const grid = ref<{ goTo: (key: string, id?: string) => void; focus: () => void }>()
const crewFill = ref({ start: '', finish: '', break: '' })
watch(date, () => (added.value = []))

const day = computed(() => sheet.value?.days?.indexOf(date.value) ?? -1)
const places = computed(() => dayPlaces(lines.value, day.value, added.value, crewSheet.stateOf))
const workers = computed(() => workdays.workers.value)
const nothing = computed(() => !!choices.value && (!choices.value.workers?.length || !choices.value.jobs?.length))

const lineOf = (w: WorkerDay, place: Omit<Place, 'worker'>): SheetLine =>
  lineOn(lines.value, { ...place, worker: w.worker }, sheet.value?.days ?? [])
const placeOf = new Map<string, Omit<Place, 'worker'>>()
watch(places, (shown) => shown.forEach((p) => placeOf.set(placeKey(p), p)), { immediate: true, flush: 'sync' })
const isPart = (column: string): column is ClockPart => (clockParts as string[]).includes(column)
const lineAt = (w: WorkerDay, column: string) => lineOf(w, placeOf.get(column)!)
const cellOf = (line: SheetLine) => line.cells![day.value]!
const unsavedOf = (line: SheetLine) => outbox.unsaved.get(`${line.key}|${date.value}`)

function textAt(w: WorkerDay, column: string): string {
  if (isPart(column)) return workdays.shown(w, column)
  const line = lineAt(w, column)
  return unsavedOf(line)?.edit.text ?? cellOf(line).text
}
/** Sets cells, the clock times as well as the hours. */
function set(edits: Edit<WorkerDay>[], how: How) {
  const changes: Change[] = []
  for (const { row: w, column, text } of edits) {
    if (!isPart(column)) changes.push(...acts.toText(lineAt(w, column), day.value, text))
    else if (text !== workdays.shown(w, column) || isDraft(w)?.said) workdays.type(w, column, text)
  }
  crewSheet.change(
    changes,
    how === 'typed' ? `${edits[0]!.text || 'nothing'} for ${edits[0]!.row.worker.name}` : `cells ${how}`,
  )
}
function opens(w: WorkerDay, column: string): boolean {
  const locked = isPart(column) ? '' : cellOf(lineAt(w, column)).locked
  if (locked) said.value = `This can't be changed: it is ${locked}`
  return !locked
}
const undo = useUndo()
watch(
  () => undo.said,
  (text) => (said.value = text),
)

const placed = (w: WorkerDay) => places.value.reduce((sum, p) => sum + minutesOf(cellOf(lineOf(w, p))?.hours), 0)
const over = (w: WorkerDay) => places.value.reduce((sum, p) => sum + minutesOf(cellOf(lineOf(w, p))?.overtime), 0)
const toPlace = (w: WorkerDay) => (w.minutes ? w.minutes - placed(w) : 0)
const moneyOf = (w: WorkerDay, what: 'cost' | 'charge') =>
  sumOf(places.value.map((p) => cellOf(lineOf(w, p))?.[what] ?? '').filter(Boolean))
const columnHours = (p: Omit<Place, 'worker'>) =>
  workers.value.reduce((sum, w) => sum + minutesOf(cellOf(lineOf(w, p))?.hours), 0)
const sum = (of: (w: WorkerDay) => number) => workers.value.reduce((total, w) => total + of(w), 0)

watch(
  [sheet, workers],
  () => {
    footing.show(`${crew.value || 'All crews'}, ${scope.short.value}`, [
      { label: 'By the clock', value: hoursOf(sum((w) => w.minutes)) || '0' },
      { label: 'On jobs', value: hoursOf(sum(placed)) || '0' },
      { label: 'To place', value: hoursOf(sum(toPlace)) || '0' },
      { label: 'Overtime', value: hoursOf(sum(over)) || '0' },
    ])
  },
  { immediate: true },
)

/** Who is filled in: those who have neither clock times nor hours on this day. */
const fills = computed(() => workers.value.filter((w) => !w.minutes && !placed(w)))
function fillIn() {
  const { start, finish, break: pause } = crewFill.value
  if (!start.trim() || !finish.trim()) {
    said.value = 'Type when the crew began and finished'
    return
  }
  const text = `${start.trim()}-${finish.trim()}${pause.trim() ? `/${pause.trim()}` : ''}`
  const chosen = fills.value
  const changes: Change[] = []
  for (const w of chosen) {
    if (!w.job) continue
    const place: Place = {
      worker: w.worker,
      job: w.job,
      phase: w.phase,
      costCode: w.costCode,
      billable: true,
      payClass: 'auto',
    }
    changes.push({ date: date.value, from: { place, text: '' }, to: { place, text } })
  }
  workdays.fill(chosen, { start: start.trim(), finish: finish.trim(), break: pause.trim() })
  crewSheet.change(changes, 'crew fill')
  said.value = `Filled ${chosen.length} of ${workers.value.length}`
  crewFill.value = { start: '', finish: '', break: '' }
  grid.value?.focus()
}

/** The hours of the last day worked, on the same jobs. */
async function likeLastDay() {
  const from = workdays.data.value
  if (!from?.lastDay || !from.lastWeek) return
  busy.value = true
  try {
    const query = { week: from.lastWeek, crew: crew.value, job: scope.job.value }
    const before = await answered(client.GET('/api/time/sheet', { params: { query } }))
    const index = before.days?.indexOf(from.lastDay) ?? -1
    const changes: Change[] = []
    for (const line of before.lines ?? []) {
      const text = line.cells?.[index]?.text || line.cells?.[index]?.hours
      const w = workers.value.find((x) => x.worker.id === line.worker.id)
      if (!text || !w || placed(w)) continue
      changes.push({ date: date.value, from: { place: line, text: '' }, to: { place: line, text } })
    }
    crewSheet.change(changes, `like ${shortDay(from.lastDay)}`)
    said.value = `${counted(changes.length, 'cell')} like ${shortDay(from.lastDay)}`
  } finally {
    busy.value = false
  }
}
async function hand() {
  said.value = ''
  said.value = await handOver.hand()
}
function addPlace(place: Omit<Place, 'worker'>) {
  added.value.push(place)
  void nextTick(() => grid.value?.goTo(here.value, placeKey(place)))
}
/** Below this the sheet is moved sideways, so that no column is squeezed. */
const leastWidth = computed(() => 690 + places.value.length * placeWidth + (money.value ? 168 : 0))
const wrongOf = (w: WorkerDay) => places.value.map((p) => unsavedOf(lineOf(w, p))).find((item) => item?.said)
const isDraft = (w: WorkerDay) => workdays.drafts.get(w.worker.id)
const rowKey = (w: WorkerDay) => String(w.worker.id)
/** The worker under the cursor. */
const here = ref('')
const placeWidth = 104
const columns = computed<GridColumn<WorkerDay>[]>(() => {
  const figures = (...of: GridColumn<WorkerDay>[]) => (money.value ? of : [])
  return [
    {
      id: 'worker',
      label: 'Worker',
      width: 132,
      value: (w) => [w.worker.name, w.worker.sub].filter(Boolean).join(', '),
      sum: `${workers.value.filter((w) => w.minutes || placed(w)).length} at work`,
    },
    { id: 'start', label: 'Start', typed: true, width: 56 },
    { id: 'finish', label: 'Finish', typed: true, width: 56 },
    { id: 'break', label: 'Break', typed: true, width: 56 },
    { id: 'bar', label: 'Hours of the day', tone: () => 'hoursof', head: 'hoursof' },
    {
      id: 'worked',
      label: 'Worked',
      kind: 'figure',
      width: 58,
      value: (w) => hoursOf(w.minutes),
      sum: hoursOf(sum((w) => w.minutes)) || '0',
    },
    ...places.value.map((p) => ({
      id: placeKey(p),
      label: [`${p.job.code} ${p.job.name}`, p.phase?.name, p.costCode?.code].filter(Boolean).join(', '),
      typed: true,
      width: placeWidth,
      sum: hoursOf(columnHours(p)),
      head: 'place',
    })),
    {
      id: 'left',
      label: 'To place',
      kind: 'figure',
      rule: true,
      width: 68,
      value: (w) => (w.minutes ? hoursOf(toPlace(w)) || '0' : ''),
      tone: (w) => (toPlace(w) ? 'left' : ''),
      sum: hoursOf(sum(toPlace)) || '0',
    },
    {
      id: 'over',
      label: 'Over',
      kind: 'figure',
      width: 48,
      value: (w) => hoursOf(over(w)),
      sum: hoursOf(sum(over)) || '0',
    },
    ...figures(
      { id: 'cost', label: 'Cost', kind: 'figure', rule: true, width: 84, value: (w) => moneyOf(w, 'cost') },
      { id: 'charge', label: 'Charge', kind: 'figure', width: 84, value: (w) => moneyOf(w, 'charge') },
    ),
  ]
})
</script>

<template>
  <div class="sheet">
    <TimeHead view="day" :crews="sheet?.crews ?? []" :crew="sheet?.crew">
      <template #acts>
        <span class="told" role="status">{{ said }}</span>
        <AddPlace v-if="choices && sheet" :choices="choices" :job="scope.job.value" @add="addPlace" />
        <v-btn v-if="workdays.data.value?.lastDay" :loading="busy" @click="likeLastDay"
          >Like {{ weekDay(workdays.data.value.lastDay) }}</v-btn
        >
        <MoreMenu :query="crewSheet.query.value" />
        <v-btn class="go" :loading="handing" :disabled="!sheet?.drafts" @click="hand">{{
          asks ? 'Hand in all the same' : 'Hand in'
        }}</v-btn>
      </template>
    </TimeHead>
    <div class="split one">
      <section>
        <FirstHours v-if="nothing" />
        <Await v-else-if="!sheet" :of="crewSheet.asked" what="the day" />
        <Await v-else-if="!workdays.data.value" :of="workdays.asked" what="the day" />
        <EntryGrid
          v-else-if="choices && day >= 0"
          ref="grid"
          class="days"
          label="Day sheet"
          :columns="columns"
          :rows="workers"
          :row-key="rowKey"
          :text="textAt"
          :opens="opens"
          :wrong="(w) => !!(wrongOf(w) || isDraft(w)?.said)"
          :least="leastWidth"
          @set="set"
          @at="(w) => (here = w ? rowKey(w) : '')"
          @beyond="said = 'Some of the rows have no worker here'"
        >
          <template #head="{ column }">
            <template v-if="isPart(column.id)">{{ column.label }}</template>
            <span v-else class="place-head" :title="column.label"
              ><b>{{ placeOf.get(column.id)!.job.code }} {{ placeOf.get(column.id)!.job.name }}</b
              ><span>{{
                placeOf.get(column.id)!.phase?.name || placeOf.get(column.id)!.costCode?.name || 'no code'
              }}</span
              ><span
                >{{ placeOf.get(column.id)!.costCode?.code
                }}{{ placeOf.get(column.id)!.billable ? '' : ' not billable' }}</span
              ></span
            >
          </template>
          <template #head-bar
            ><i v-for="h in [6, 8, 10, 12, 2, 4]" :key="h">{{ h }}</i></template
          >
          <template #first="{ columns: wide }">
            <tr class="crewfill">
              <th scope="row">Crew fill</th>
              <td v-for="part in clockParts" :key="part" class="fillcell">
                <input
                  v-model="crewFill[part]"
                  :aria-label="`Crew fill, ${part}`"
                  :placeholder="{ start: '7:00', finish: '5:30', break: '30' }[part]"
                  @keydown.enter.prevent="fillIn"
                />
              </td>
              <td :colspan="wide - clockParts.length - 1" class="soft">
                <template v-if="crewFill.start || crewFill.finish"
                  >Fills {{ fills.length }} of {{ workers.length }}, each on the job of the last day worked; who has
                  hours keeps them. <button class="lnk" @click="fillIn">Fill them in</button> <kbd>Enter</kbd></template
                >
                <template v-else>when the crew began and finished, for all who have no hours yet</template>
              </td>
            </tr>
          </template>
          <template #cell-worker="{ row: w }"
            ><span class="two"
              ><span class="strong">{{ w.worker.name }}</span
              ><small>{{ w.worker.sub }}</small></span
            ></template
          >
          <template #cell-bar="{ row: w }"
            ><DayBar :from="w.from" :minutes="w.minutes" :pause="Number(w.break ?? 0)" :over="over(w)"
          /></template>
          <template #entry="{ row: w, column, cell }">
            <EntryCell
              v-if="isPart(column)"
              :cell="cell"
              :label="`${w.worker.name}, ${column}`"
              :text="workdays.shown(w, column)"
              :waits="!!isDraft(w) && !isDraft(w)!.said"
              :bad="!!isDraft(w)?.said"
            />
            <HoursCell
              v-else
              :cell="cell"
              :day="cellOf(lineAt(w, column))"
              :worker="w.worker.id"
              :label="`${w.worker.name}, ${placeOf.get(column)!.job.code} ${placeOf.get(column)!.costCode?.code ?? ''}`"
              :unsaved="unsavedOf(lineAt(w, column))"
            />
          </template>
          <template #wrong="{ row: w }">
            <WrongCell v-if="wrongOf(w)" :item="wrongOf(w)!" :day="w.worker.name" @done="grid?.focus()" />
            <span v-else role="alert">{{ w.worker.name }}: {{ isDraft(w)?.said }}</span>
          </template>
          <template #below
            ><DayFoot
              :clock="sum((w) => w.minutes)"
              :placed="sum(placed)"
              :open="workers.filter(toPlace).map((w) => ({ name: w.worker.name, minutes: toPlace(w) }))"
              :places="places.map((p) => ({ name: `${p.job.code} ${p.job.name}`, minutes: columnHours(p) }))"
          /></template>
        </EntryGrid>
      </section>
    </div>
  </div>
</template>

<style scoped>
.one {
  grid-template-columns: minmax(0, 1fr);
}
.days :deep(thead th) {
  vertical-align: bottom;
}
.days :deep(thead th.place) {
  height: 3.125rem;
  line-height: 0.9375rem;
  padding: 3px 8px;
  border-left: 1px solid var(--rule-faint);
}
.place-head > * {
  display: block;
  overflow: hidden;
  text-overflow: ellipsis;
}
.place-head b {
  color: var(--ink);
  font-weight: 640;
}
.days :deep(.hoursof) {
  padding: 0 8px;
}
.days :deep(th.hoursof i) {
  display: inline-block;
  width: 16.6%;
  font-style: normal;
}
.crewfill > * {
  background: var(--denim-wash);
}
.fillcell input {
  width: 100%;
  height: 1.625rem;
  border: 1px solid var(--denim-line);
  background: var(--paper);
  text-align: right;
  padding: 0 5px;
}
.days .fillcell {
  padding: 0 3px;
}
.days :deep(td.left) {
  background: var(--ochre-wash);
  color: var(--ochre-ink);
  font-weight: 640;
}
</style>
