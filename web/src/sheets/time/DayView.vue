<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import { computed, nextTick, ref, watch } from 'vue'
import { answered, client } from '@/api/client'
import Amount from '@/parts/Amount.vue'
import Await from '@/parts/Await.vue'
import { counted, day as weekDay, figure, shortDay } from '@/parts/figures'
import { useFooting } from '@/book/footing'
import { useHandIn } from '@/book/handIn'
import { useOutbox, type Place } from '@/book/outbox'
import { useScope } from '@/book/scope'
import { useSession } from '@/book/session'
import { useUndo } from '@/book/undo'
import { crewActs } from './acts'
import AddPlace from './AddPlace.vue'
import { copyBlock, pastedBlock } from './clipboard'
import { useCrewSheet, type Change } from './crewSheet'
import DayBar from './DayBar.vue'
import DayFoot from './DayFoot.vue'
import { dayPlaces, hoursOf, minutesOf, placeKey } from './day'
import FirstHours from './FirstHours.vue'
import { inCell, useGrid, type Block, type Spot } from './grid'
import HoursCell from './HoursCell.vue'
import { emptyLine, keyOf, type SheetLine } from './lines'
import MoreMenu from './MoreMenu.vue'
import TimeHead from './TimeHead.vue'
import { clockParts, useWorkdays, type WorkerDay } from './workdays'
import WrongCell from './WrongCell.vue'

/** A crew's day as it comes in on paper: workers down, when they were at work, and the day's jobs across. */
const scope = useScope()
const session = useSession()
const footing = useFooting()
const outbox = useOutbox()
const queries = useQueryClient()
const crewSheet = useCrewSheet(scope)
const { sheet, lines, crew } = crewSheet
const choices = scope.choices
const acts = crewActs(crewSheet, () => choices.value)
const date = computed(() => scope.at.value)
const workdays = useWorkdays(computed(() => ({ date: date.value, crew: crew.value })))
const money = computed(() => session.can('money'))
const said = ref('')
const { asks, handIn } = useHandIn()
const busy = ref(false)
const added = ref<Omit<Place, 'worker'>[]>([])
const body = ref<HTMLElement>()
const crewFill = ref({ start: '', finish: '', break: '' })
watch(date, () => (added.value = []))

const day = computed(() => sheet.value?.days?.indexOf(date.value) ?? -1)
const places = computed(() => dayPlaces(lines.value, day.value, added.value, crewSheet.stateOf))
const columns = computed(() => clockParts.length + places.value.length)
const workers = computed(() => workdays.workers.value)
const nothing = computed(() => !!choices.value && (!choices.value.workers?.length || !choices.value.jobs?.length))

function lineOf(w: WorkerDay, place: Omit<Place, 'worker'>): SheetLine {
  const whole: Place = { ...place, worker: w.worker }
  const key = keyOf(whole)
  return lines.value.find((l) => l.key === key) ?? emptyLine(whole, sheet.value?.days ?? [])
}
const at = (spot: Spot) => {
  const w = workers.value[spot.row]
  const place = places.value[spot.col - clockParts.length]
  return { w, part: clockParts[spot.col], line: w && place ? lineOf(w, place) : undefined }
}
const unsavedOf = (line: SheetLine) => outbox.unsaved.get(`${line.key}|${date.value}`)

/** Sets the cells of a block, the clock times as well as the hours. */
function set(block: Block, text: (row: number, col: number) => string, what: string) {
  const changes: Change[] = []
  for (let row = block.top; row <= block.bottom; row++)
    for (let col = block.left; col <= block.right; col++) {
      const { w, part, line } = at({ row, col })
      if (w && part) workdays.type(w, part, text(row, col))
      else if (line) changes.push(...acts.toText(line, day.value, text(row, col)))
    }
  crewSheet.change(changes, what)
}
function textAt(spot: Spot): string {
  const { w, part, line } = at(spot)
  if (w && part) return workdays.shown(w, part)
  return line ? (unsavedOf(line)?.edit.text ?? line.cells![day.value]!.text) : ''
}
const grid = useGrid(workers, columns, body, {
  type: (spot, text) => {
    const { w, part, line } = at(spot)
    if (w && part) workdays.type(w, part, text)
    else if (line && (unsavedOf(line)?.said || text.trim() !== textAt(spot))) acts.type(line, day.value, text)
  },
  text: textAt,
  clear: (block) => set(block, () => '', 'cells emptied'),
  fill: (block, along) => {
    const b = { ...block }
    if (along === 'down' && b.top === b.bottom) b.top = Math.max(0, b.top - 1)
    if (along === 'across' && b.left === b.right) b.left = Math.max(0, b.left - 1)
    set(
      b,
      (row, col) => textAt({ row: along === 'down' ? b.top : row, col: along === 'down' ? col : b.left }),
      `filled ${along}`,
    )
  },
  open: (spot) => {
    const locked = at(spot).line?.cells?.[day.value]?.locked
    if (locked) said.value = `This can't be changed: it is ${locked}`
    return !locked
  },
  command: () => false,
  key: (row) => String(workers.value[row]!.worker.id),
})
const undo = useUndo()
watch(
  () => undo.said,
  (text) => (said.value = text),
)
function copy(event: ClipboardEvent) {
  if (typed.value !== undefined || !inCell(event)) return
  const { top, bottom, left, right } = grid.block.value
  const rows = Array.from({ length: bottom - top + 1 }, (_, i) =>
    Array.from({ length: right - left + 1 }, (_, j) => textAt({ row: top + i, col: left + j })),
  )
  copyBlock(event, rows, rows)
  if (event.type === 'cut') set(grid.block.value, () => '', 'cells emptied')
}
function paste(event: ClipboardEvent) {
  if (typed.value !== undefined || !inCell(event)) return
  event.preventDefault()
  const rows = pastedBlock(event)
  const one = rows.length === 1 && rows[0]!.length === 1
  const { top, left, bottom, right } = grid.block.value
  const area = one
    ? grid.block.value
    : { top, left, bottom: top + rows.length - 1, right: left + Math.max(...rows.map((r) => r.length)) - 1 }
  area.bottom = Math.min(Math.max(area.bottom, one ? bottom : 0), workers.value.length - 1)
  area.right = Math.min(one ? right : area.right, columns.value - 1)
  set(area, (row, col) => (one ? rows[0]![0]! : (rows[row - top]?.[col - left] ?? '')), 'cells pasted')
  if (rows.length > workers.value.length - top) said.value = 'Some rows of it found no worker here'
}
const { cursor, typed } = grid

const placed = (w: WorkerDay) =>
  places.value.reduce((sum, p) => sum + minutesOf(lineOf(w, p).cells?.[day.value]?.hours), 0)
const over = (w: WorkerDay) =>
  places.value.reduce((sum, p) => sum + minutesOf(lineOf(w, p).cells?.[day.value]?.overtime), 0)
const toPlace = (w: WorkerDay) => (w.minutes ? w.minutes - placed(w) : 0)
const moneyOf = (w: WorkerDay, what: 'cost' | 'charge') =>
  places.value.map((p) => lineOf(w, p).cells?.[day.value]?.[what]).filter(Boolean) as string[]
const columnHours = (p: Omit<Place, 'worker'>) =>
  workers.value.reduce((sum, w) => sum + minutesOf(lineOf(w, p).cells?.[day.value]?.hours), 0)
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
  grid.focus()
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
  if (outbox.items.length || workdays.drafts.size) {
    said.value = 'Not all is saved yet'
    return
  }
  busy.value = true
  try {
    const query = crewSheet.query.value
    const answer = await handIn((ahead) => answered(client.POST('/api/time/hand-in', { body: { ...query, ahead } })))
    if (answer.unread) void queries.invalidateQueries({ queryKey: ['time'] })
    else queries.setQueryData(['time', query], answer)
    said.value = 'The week so far is handed in'
  } catch (refused) {
    said.value = (refused as Error).message
  } finally {
    busy.value = false
  }
}
function addPlace(place: Omit<Place, 'worker'>) {
  added.value.push(place)
  void nextTick(() => grid.go({ row: cursor.value.row, col: columns.value - 1 }))
}
/** Below this the sheet is moved sideways, so that no column is squeezed. */
const leastWidth = computed(() => 720 + places.value.length * 104 + (money.value ? 168 : 0))
const wrongOf = (w: WorkerDay) => places.value.map((p) => unsavedOf(lineOf(w, p))).find((item) => item?.said)
const isDraft = (w: WorkerDay) => workdays.drafts.get(w.worker.id)
</script>

<template>
  <div class="sheet">
    <TimeHead view="day" :crews="sheet?.crews ?? []" :crew="sheet?.crew">
      <template #acts>
        <span v-if="said" class="told" role="status">{{ said }}</span>
        <v-btn v-if="workdays.data.value?.lastDay" :loading="busy" @click="likeLastDay"
          >Like {{ weekDay(workdays.data.value.lastDay) }}</v-btn
        >
        <MoreMenu :query="crewSheet.query.value" />
        <v-btn class="go" :loading="busy" :disabled="!sheet?.drafts" @click="hand">{{
          asks ? 'Hand in all the same' : 'Hand in'
        }}</v-btn>
      </template>
    </TimeHead>
    <div class="split one">
      <section>
        <FirstHours v-if="nothing" />
        <Await v-else-if="!sheet" :of="crewSheet.asked" what="the day" />
        <Await v-else-if="!workdays.data.value" :of="workdays.asked" what="the day" />
        <div v-else-if="choices && day >= 0" class="scroll">
          <table class="ledger days" role="grid" aria-label="Day sheet" :style="{ minWidth: `${leastWidth}px` }">
            <colgroup>
              <col style="width: 132px" />
              <col v-for="p in clockParts" :key="p" style="width: 56px" />
              <col />
              <col style="width: 58px" />
              <col v-for="p in places" :key="placeKey(p)" style="width: 104px" />
              <col style="width: 34px" />
              <col style="width: 68px" />
              <col style="width: 48px" />
              <template v-if="money"
                ><col style="width: 84px" />
                <col style="width: 84px"
              /></template>
            </colgroup>
            <thead>
              <tr>
                <th scope="col">Worker</th>
                <th scope="col" class="num">Start</th>
                <th scope="col" class="num">Finish</th>
                <th scope="col" class="num">Break</th>
                <th scope="col" class="hoursof">
                  <i v-for="h in [6, 8, 10, 12, 2, 4]" :key="h">{{ h }}</i>
                </th>
                <th scope="col" class="num">Worked</th>
                <th
                  v-for="p in places"
                  :key="placeKey(p)"
                  scope="col"
                  class="num place"
                  :title="`${p.job.code} ${p.job.name}`"
                >
                  <b>{{ p.job.code }} {{ p.job.name }}</b
                  ><span>{{ p.phase?.name || p.costCode?.name || 'no code' }}</span
                  ><span>{{ p.costCode?.code }}{{ p.billable ? '' : ' not billable' }}</span>
                </th>
                <th scope="col"><AddPlace :choices="choices" :job="scope.job.value" @add="addPlace" /></th>
                <th scope="col" class="num money">To place</th>
                <th scope="col" class="num">Over</th>
                <template v-if="money"
                  ><th scope="col" class="num money">Cost</th>
                  <th scope="col" class="num">Charge</th></template
                >
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
                <td :colspan="places.length + (money ? 7 : 5)" class="soft">
                  <template v-if="crewFill.start || crewFill.finish"
                    >Fills {{ fills.length }} of {{ workers.length }}, each on the job of the last day worked; who has
                    hours keeps them. <button class="lnk" @click="fillIn">Fill them in</button>
                    <kbd>Enter</kbd></template
                  >
                  <template v-else>when the crew began and finished, for all who have no hours yet</template>
                </td>
              </tr>
              <template v-for="(w, i) in workers" :key="w.worker.id">
                <tr :data-line="i">
                  <td>
                    <span class="two"
                      ><span class="strong">{{ w.worker.name }}</span
                      ><small>{{ w.worker.sub }}</small></span
                    >
                  </td>
                  <td
                    v-for="(part, col) in clockParts"
                    :key="part"
                    :data-day="col"
                    class="day"
                    :class="{
                      waits: isDraft(w) && !isDraft(w)?.said,
                      bad: isDraft(w)?.said,
                      marked: grid.isMarked(i, col),
                    }"
                    :tabindex="cursor.row === i && cursor.col === col ? 0 : -1"
                    @mousedown="grid.point({ row: i, col }, $event)"
                    @mouseenter="grid.drag({ row: i, col }, $event)"
                  >
                    <input
                      v-if="cursor.row === i && cursor.col === col && typed !== undefined"
                      v-model="typed"
                      :aria-label="`${w.worker.name}, ${part}`"
                      autocomplete="off"
                      @blur="grid.take()"
                    />
                    <template v-else
                      ><span class="sr">{{ w.worker.name }}, {{ part }}: </span
                      ><span class="figure">{{ workdays.shown(w, part) }}</span></template
                    >
                  </td>
                  <td class="hoursof">
                    <DayBar :from="w.from" :minutes="w.minutes" :pause="Number(w.break ?? 0)" :over="over(w)" />
                  </td>
                  <td class="num">{{ figure(hoursOf(w.minutes)) }}</td>
                  <HoursCell
                    v-for="(p, n) in places"
                    :key="placeKey(p)"
                    :cell="lineOf(w, p).cells![day]!"
                    :data-day="n + clockParts.length"
                    :worker="w.worker.id"
                    :label="`${w.worker.name}, ${p.job.code} ${p.costCode?.code ?? ''}`"
                    :unsaved="unsavedOf(lineOf(w, p))"
                    :here="cursor.row === i && cursor.col === n + clockParts.length"
                    :marked="grid.isMarked(i, n + clockParts.length)"
                    :typed="cursor.row === i && cursor.col === n + clockParts.length ? typed : undefined"
                    @update:typed="typed = $event"
                    @leave="grid.take()"
                    @mousedown="grid.point({ row: i, col: n + clockParts.length }, $event)"
                    @mouseenter="grid.drag({ row: i, col: n + clockParts.length }, $event)"
                  />
                  <td></td>
                  <td class="num money" :class="{ left: toPlace(w) }">
                    {{ w.minutes ? figure(hoursOf(toPlace(w))) || '0' : '' }}
                  </td>
                  <td class="num">{{ figure(hoursOf(over(w))) }}</td>
                  <template v-if="money">
                    <td class="num money">
                      <Amount v-for="(c, n) in moneyOf(w, 'cost')" :key="n" :of="c" class="each" />
                    </td>
                    <td class="num"><Amount v-for="(c, n) in moneyOf(w, 'charge')" :key="n" :of="c" class="each" /></td>
                  </template>
                </tr>
                <tr v-if="wrongOf(w) || isDraft(w)?.said">
                  <td class="error-line" :colspan="columns + (money ? 8 : 6)">
                    <WrongCell v-if="wrongOf(w)" :item="wrongOf(w)!" :day="w.worker.name" @done="grid.focus()" />
                    <span v-else role="alert">{{ w.worker.name }}: {{ isDraft(w)?.said }}</span>
                  </td>
                </tr>
              </template>
            </tbody>
            <tfoot>
              <tr>
                <th scope="row">{{ workers.filter((w) => w.minutes || placed(w)).length }} at work</th>
                <td :colspan="4"></td>
                <td class="num">{{ figure(hoursOf(sum((w) => w.minutes))) || '0' }}</td>
                <td v-for="p in places" :key="placeKey(p)" class="num">{{ figure(hoursOf(columnHours(p))) }}</td>
                <td></td>
                <td class="num money">{{ figure(hoursOf(sum(toPlace))) || '0' }}</td>
                <td class="num">{{ figure(hoursOf(sum(over))) || '0' }}</td>
                <template v-if="money"
                  ><td></td>
                  <td></td
                ></template>
              </tr>
            </tfoot>
          </table>
          <DayFoot
            :clock="sum((w) => w.minutes)"
            :placed="sum(placed)"
            :open="workers.filter(toPlace).map((w) => ({ name: w.worker.name, minutes: toPlace(w) }))"
            :places="places.map((p) => ({ name: `${p.job.code} ${p.job.name}`, minutes: columnHours(p) }))"
          />
        </div>
      </section>
    </div>
  </div>
</template>

<style scoped>
.one {
  grid-template-columns: minmax(0, 1fr);
}
thead th {
  vertical-align: bottom;
}
.ledger thead th.place {
  height: 50px;
  line-height: 15px;
  white-space: nowrap;
  padding: 3px 8px;
  border-left: 1px solid var(--rule-faint);
}
.place b,
.place span {
  display: block;
  overflow: hidden;
  text-overflow: ellipsis;
}
.place b {
  color: var(--ink);
  font-weight: 640;
}
.hoursof {
  padding: 0 8px;
}
thead th:has(button) {
  text-overflow: clip;
  padding: 0 4px 4px;
}
th.hoursof i {
  display: inline-block;
  width: 16.6%;
  font-style: normal;
}
.crewfill > * {
  background: var(--denim-wash);
}
.fillcell input {
  width: 100%;
  height: 26px;
  border: 1px solid var(--denim-line);
  background: var(--paper);
  text-align: right;
  padding: 0 5px;
}
.ledger .fillcell {
  padding: 0 3px;
}
.left {
  background: var(--ochre-wash);
  color: var(--ochre-ink);
  font-weight: 640;
}
.each + .each::before {
  content: '+ ';
}
</style>
