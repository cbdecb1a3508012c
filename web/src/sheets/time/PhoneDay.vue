<script setup lang="ts">
import { mdiChevronLeft, mdiChevronRight } from '@mdi/js'
import { computed, reactive, ref, watch } from 'vue'
import Await from '@/parts/Await.vue'
import Icon from '@/parts/Icon.vue'
import { addDays, counted, day as dayName, figure } from '@/parts/figures'
import { usePlaces } from '@/parts/places'
import { useFooting } from '@/book/footing'
import { useOutbox, type Place } from '@/book/outbox'
import { useScope } from '@/book/scope'
import { useSession } from '@/book/session'
import { crewActs } from './acts'
import { useCrewSheet, type Change } from './crewSheet'
import { dayPlaces, hoursOf, minutesOf, placeKey, type DayPlace } from './day'
import { useHandOver } from './handOver'
import HoursReading from './HoursReading.vue'
import { cellOn, keyOf, lineOn, termsOf } from './lines'
import PhoneLog from './PhoneLog.vue'
import WrongCell from './WrongCell.vue'

/** A crew's day on a phone: one job at a time, the same hours for all, and what differs typed over them. */
const scope = useScope()
const session = useSession()
const outbox = useOutbox()
const sheet = useCrewSheet(scope)
const acts = crewActs(sheet, () => scope.choices.value)
const places = usePlaces(() => scope.choices.value)
const { asks, handing, hand } = useHandOver(sheet)
const said = ref('')
const date = computed(() => scope.at.value)
const at = computed(() => sheet.sheet.value?.days?.indexOf(date.value) ?? -1)
const members = computed(() => sheet.sheet.value?.members ?? [])
const go = (days: number) => void scope.change({ span: 'day', from: addDays(date.value, days) })
watch([date, sheet.crew], () => (said.value = ''))

/** The jobs to book on: those of this day, those of the week, and all that are open. */
const onDay = computed(() => dayPlaces(sheet.lines.value, at.value, [], sheet.stateOf))
const inWeek = computed(() => {
  const known = new Set(onDay.value.map(placeKey))
  const of = (sheet.sheet.value?.days ?? []).flatMap((_, i) => dayPlaces(sheet.lines.value, i, [], sheet.stateOf))
  return [...new Map(of.map((p) => [placeKey(p), p])).values()].filter((p) => !known.has(placeKey(p)))
})
const others = computed<DayPlace[]>(() =>
  places.jobs.value
    .filter((j) => !j.retired)
    .flatMap((j) => {
      const place = places.place(j.id)
      return place ? [{ ...place, ...termsOf(false) }] : []
    }),
)
/** Leave is booked where nothing is billed; on any job where there is none such. */
const leave = computed<DayPlace[]>(() => {
  const known = new Set([...onDay.value, ...inWeek.value].map(placeKey))
  const own = new Set((scope.choices.value?.jobs ?? []).filter((j) => j.basis === 'none').map((j) => j.id))
  const jobs = others.value.filter((p) => own.has(p.job.id))
  return (jobs.length ? jobs : others.value)
    .map((p) => ({ ...p, ...termsOf(true) }))
    .filter((p) => !known.has(placeKey(p)))
})
const groups = computed(() =>
  [
    { title: 'On this day', of: onDay.value },
    { title: 'This week', of: inWeek.value },
    { title: 'Other jobs', of: others.value },
    { title: 'Leave, paid and not worked', of: leave.value },
  ].filter((g) => g.of.length),
)
const chosen = ref('')
const place = computed(() => {
  const all = groups.value.flatMap((g) => g.of)
  return all.find((p) => placeKey(p) === chosen.value) ?? all[0]
})
const placeName = (p: DayPlace) =>
  [
    p.payClass === 'leave' && 'Leave',
    `${p.job.code} ${p.job.name}`,
    p.phase?.name,
    p.costCode && `${p.costCode.code} ${p.costCode.name}`,
    !p.billable && p.payClass !== 'leave' && 'not billable',
  ]
    .filter(Boolean)
    .join(', ')

interface Member {
  worker: Place['worker']
  place: Place
}
const crew = computed<Member[]>(() =>
  place.value ? members.value.map((worker) => ({ worker, place: { ...place.value!, worker } })) : [],
)
const lineFor = (m: Member) => lineOn(sheet.lines.value, m.place, sheet.sheet.value?.days ?? [])
const cell = (m: Member) => cellOn(lineFor(m), date.value)
const unsaved = (m: Member) => outbox.unsaved.get(`${keyOf(m.place)}|${date.value}`)
/** What stands in a worker's field: what is typed and not saved, or decimal hours. */
const textOf = (m: Member) => unsaved(m)?.edit.text ?? figure(cell(m).hours)
const elsewhere = (m: Member) => {
  const cells = sheet.lines.value
    .filter((l) => l.worker.id === m.worker.id && l.key !== keyOf(m.place))
    .map((l) => cellOn(l, date.value))
  const minutes = (what: 'hours' | 'overtime') => cells.reduce((sum, c) => sum + minutesOf(c[what]), 0)
  return { hours: hoursOf(minutes('hours')), overtime: hoursOf(minutes('overtime')) }
}
/** Hours that are typed and not handed in are in pencil. */
const inPencil = (m: Member) => !!textOf(m) && !cell(m).locked
const typing = reactive<Record<number, string>>({})
function take(m: Member) {
  const text = typing[m.worker.id]
  delete typing[m.worker.id]
  if (text === undefined || text.trim() === textOf(m)) return
  acts.type(lineFor(m), at.value, text)
}

const all = ref('')
/** Who has nothing on this day yet: the others keep what they have. */
const open = computed(() => crew.value.filter((m) => !textOf(m) && !elsewhere(m).hours))
function fill() {
  const text = all.value.trim()
  if (!text) return void (said.value = 'Type the hours first, such as 8 or 7-3:30/30')
  const changes: Change[] = open.value.map((m) => ({
    date: date.value,
    from: { place: m.place, text: '' },
    to: { place: m.place, text },
  }))
  sheet.change(changes, 'crew fill')
  said.value = `Filled ${changes.length} of ${crew.value.length}`
  all.value = ''
}
async function handIn() {
  said.value = ''
  said.value = await hand()
}

const footing = useFooting()
const dayMinutes = (what: 'hours' | 'overtime') =>
  sheet.lines.value.reduce((sum, l) => sum + minutesOf(cellOn(l, date.value)[what]), 0)
watch(
  [sheet.sheet, date],
  () => {
    if (at.value >= 0)
      footing.show(`${sheet.crew.value || 'All crews'}, ${dayName(date.value)}`, [
        { label: 'Worked', value: hoursOf(dayMinutes('hours')) || '0' },
        { label: 'Overtime', value: hoursOf(dayMinutes('overtime')) || '0' },
      ])
  },
  { immediate: true },
)
</script>

<template>
  <div class="sheet">
    <div class="phone-day">
      <header>
        <h1 v-if="(sheet.sheet.value?.crews?.length ?? 0) < 2 || session.who?.crew">
          {{ sheet.sheet.value?.crew || sheet.crew.value || 'Time' }}
        </h1>
        <label v-else
          ><span class="sr">Crew</span
          ><select
            :value="sheet.crew.value"
            class="crew-choice"
            @change="scope.change({ crew: ($event.target as HTMLSelectElement).value })"
          >
            <option value="">All crews</option>
            <option v-for="c in sheet.sheet.value?.crews" :key="c" :value="c">{{ c }}</option>
          </select></label
        >
        <button aria-label="The day before" @click="go(-1)"><Icon :path="mdiChevronLeft" /></button>
        <b class="date">{{ dayName(date) }}</b>
        <button aria-label="The day after" @click="go(1)"><Icon :path="mdiChevronRight" /></button>
      </header>
      <Await :of="sheet.asked" what="the day" />
      <template v-if="sheet.sheet.value && scope.choices.value && at >= 0">
        <p v-if="!members.length" class="empty soft">Nobody is in this crew yet.</p>
        <p v-else-if="!place" class="empty soft">There is no job to book on yet.</p>
        <template v-else>
          <label class="job"
            ><span class="sr">Job</span
            ><select :value="placeKey(place)" @change="chosen = ($event.target as HTMLSelectElement).value">
              <optgroup v-for="g in groups" :key="g.title" :label="g.title">
                <option v-for="p in g.of" :key="placeKey(p)" :value="placeKey(p)">{{ placeName(p) }}</option>
              </optgroup>
            </select></label
          >
          <form class="for-all" aria-label="The same for all" @submit.prevent="fill">
            <input v-model="all" aria-label="Hours for all" placeholder="7-3:30/30" autocomplete="off" />
            <HoursReading v-if="all && open[0]" :text="all" :worker="open[0].worker.id" :date="date" class="reads" />
            <span v-else class="soft">{{ open.length ? `${open.length} have none yet` : 'all have hours' }}</span>
            <v-btn type="submit" :disabled="!open.length">Fill for all</v-btn>
          </form>
          <p class="columns" aria-hidden="true">
            <span>{{ counted(crew.length, 'worker') }}</span><span
              >{{ place.payClass === 'leave' ? 'leave' : place.job.code }}<br />{{
                place.phase?.name || place.costCode?.name || ''
              }}</span
            ><span>other<br />jobs</span>
          </p>
          <ul aria-label="The crew's day">
            <li v-for="m in crew" :key="m.worker.id">
              <span class="who"
                ><b>{{ m.worker.name }}</b
                ><small>{{ m.worker.sub }}</small></span
              >
              <span
                ><input
                  class="hours"
                  :class="{ pencil: inPencil(m), bad: unsaved(m)?.said }"
                  :value="typing[m.worker.id] ?? textOf(m)"
                  :aria-label="`Hours of ${m.worker.name}`"
                  :aria-invalid="!!unsaved(m)?.said"
                  :readonly="!!cell(m).locked"
                  :title="cell(m).locked"
                  autocomplete="off"
                  @input="typing[m.worker.id] = ($event.target as HTMLInputElement).value"
                  @keydown.enter="($event.target as HTMLElement).blur()"
                  @blur="take(m)"
                /><small v-if="cell(m).overtime" class="over">{{ figure(cell(m).overtime) }} over</small></span
              >
              <span
                ><span class="elsewhere">{{ figure(elsewhere(m).hours) }}<span class="sr"> on other jobs</span></span
                ><small v-if="elsewhere(m).overtime" class="over">{{ figure(elsewhere(m).overtime) }} over</small></span
              >
              <WrongCell v-if="unsaved(m)?.said" class="wrong" :item="unsaved(m)!" :day="m.worker.name" />
            </li>
          </ul>
          <PhoneLog
            v-if="sheet.crew.value || session.who?.crew"
            :date="date"
            :crew="sheet.crew.value || session.who!.crew!"
            :job="place.job.id"
            :jobs="scope.choices.value.jobs ?? []"
          />
          <div class="foot">
            <p role="status" class="told">{{ said }}</p>
            <v-btn class="go" size="large" :loading="handing" :disabled="!sheet.sheet.value.drafts" @click="handIn">{{
              asks
                ? 'Hand in all the same'
                : sheet.sheet.value.drafts
                  ? 'Hand in the week so far'
                  : 'Nothing to hand in'
            }}</v-btn>
          </div>
        </template>
      </template>
    </div>
  </div>
</template>

<style scoped>
.phone-day {
  overflow: auto;
  scroll-padding-bottom: 6.5rem; /* no field that is gone to lies under the foot */
  grid-row: 1 / -1;
  display: flex;
  flex-direction: column;
  font-size: 0.9375rem;
}
header {
  display: flex;
  align-items: center;
  gap: 4px;
  padding: 4px 8px 4px 16px;
  border-bottom: 1px solid var(--ink);
}
header > :first-child {
  margin-right: auto;
}
h1,
.crew-choice {
  border: 0;
  background: none;
  font-size: 1.125rem;
  font-weight: 660;
}
header button {
  width: 2.75rem;
  height: 2.75rem;
  display: grid;
  place-items: center;
}
.job select {
  width: 100%;
  height: 3rem;
  padding: 0 16px;
  border: 0;
  border-bottom: 1px solid var(--rule);
  background: var(--paper);
  font-weight: 620;
}
.for-all {
  display: flex;
  align-items: center;
  gap: 12px;
  padding: 8px 16px;
  background: var(--denim-wash);
  border-bottom: 1px solid var(--denim-line);
}
.for-all input {
  width: 6.5rem;
  height: 2.75rem;
  border: 2px solid var(--denim);
  background: var(--paper);
  text-align: center;
  font-weight: 640;
}
.for-all > :last-child {
  margin-left: auto;
  height: 2.75rem;
}
.for-all .reads {
  position: static;
  border: 0;
  background: none;
  height: auto;
}
ul {
  list-style: none;
  padding: 0;
  margin: 0;
}
.columns,
li {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 3.875rem 3.875rem;
  gap: 0 10px;
  align-items: center;
  padding: 4px 16px;
  border-bottom: 1px solid var(--rule);
  text-align: center;
}
.columns {
  background: var(--paper-back);
  font-size: 0.75rem;
  line-height: 0.875rem;
  color: var(--ink-soft);
}
:is(.columns, li) > :first-child {
  text-align: left;
}
.who {
  line-height: 1.1875rem;
}
.who > * {
  display: block;
}
small {
  color: var(--ink-soft);
  font-size: 0.75rem;
}
.hours,
.elsewhere {
  display: block;
  width: 3.875rem;
  height: 2.75rem;
  line-height: 2.625rem;
  border: 1.5px solid var(--ink-soft);
  border-radius: 2px;
  background: var(--paper);
  text-align: center;
  font-weight: 640;
}
.elsewhere {
  border-color: var(--rule);
  font-weight: 480;
}
.hours.pencil {
  border: 1.5px dashed var(--denim-line);
  color: var(--denim);
  font-style: italic;
}
.hours.bad {
  border: 2px solid var(--rust);
  color: var(--rust);
}
.over {
  color: var(--ochre-ink);
  font-weight: 600;
}
.wrong {
  grid-column: 1 / -1;
  padding: 4px 0;
  color: var(--rust);
  font-weight: 560;
}
.foot {
  position: sticky;
  bottom: 0;
  margin-top: auto;
  display: grid;
  gap: 6px;
  padding: 8px 16px 10px;
  background: var(--paper);
  border-top: 1px solid var(--rule-strong);
}
.foot .go {
  height: 3rem;
}
</style>
