<script setup lang="ts">
import { mdiChevronDown } from '@mdi/js'
import { useEventListener, useMediaQuery } from '@vueuse/core'
import { computed, nextTick, ref, watch } from 'vue'
import Await from '@/parts/Await.vue'
import Icon from '@/parts/Icon.vue'
import TrailKey from '@/parts/TrailKey.vue'
import { counted, figure } from '@/parts/figures'
import Workings from '@/parts/Workings.vue'
import { useWorkings } from '@/parts/workings'
import { useHelp, useLetters } from '@/book/help'
import { useOutbox, type Place } from '@/book/outbox'
import { useScope } from '@/book/scope'
import { useSession } from '@/book/session'
import { useUndo } from '@/book/undo'
import { crewActs } from './acts'
import AddLine from './AddLine.vue'
import CrewGrid from './CrewGrid.vue'
import { useCrewSheet } from './crewSheet'
import EntryMore from './EntryMore.vue'
import FirstHours from './FirstHours.vue'
import { writeBlock } from '@/parts/clipboard'
import { pastedLines } from './pasted'
import { useHandOver } from './handOver'
import MoreMenu from './MoreMenu.vue'
import { keyOf, type SheetLine } from './lines'
import TimeHead from './TimeHead.vue'

const scope = useScope()
const session = useSession()
const outbox = useOutbox()
const undo = useUndo()
const crewSheet = useCrewSheet(scope)
const { sheet, lines } = crewSheet
const choices = scope.choices
const acts = crewActs(crewSheet, () => choices.value)
const here = ref<{ line?: SheetLine; day: number }>({ day: 0 })
const more = ref(false)
const adder = ref<{ focus: () => void }>()
const grid = ref<{ goTo: (key: string, date?: string) => void; focus: () => void }>()
const said = ref('')
const busy = ref(false)
const over = useHandOver(crewSheet)
const { asks } = over
const wide = useMediaQuery('(min-width: 1180px)')
const money = computed(() => session.can('money'))
const showWorkings = useWorkings(() => money.value)
const entry = computed(() => here.value.line?.cells?.[here.value.day]?.entryId)
const nothing = computed(() => !!choices.value && (!choices.value.workers?.length || !choices.value.jobs?.length))
watch(
  () => undo.said,
  (text) => (said.value = text),
)

function add(places: Place[]) {
  crewSheet.addLines(places)
  const first = keyOf(places[0]!)
  void nextTick(() => grid.value?.goTo(first))
}
async function run(step: () => Promise<string>) {
  said.value = ''
  busy.value = true
  try {
    said.value = await step()
  } catch (refused) {
    said.value = (refused as Error).message
  } finally {
    busy.value = false
    grid.value?.focus()
  }
}
/** Repeating a week that has hours already: what is there, and what to do about it. */
const question = ref<{ asks: string; hours: boolean; worker?: number }>()
watch(crewSheet.query, () => (question.value = undefined))
const repeat = (hours: boolean, worker?: number, onto?: 'all' | 'empty') =>
  run(async () => {
    question.value = undefined
    const answer = await acts.repeat(hours, worker, onto)
    if (typeof answer === 'string') return answer
    question.value = { ...answer, hours, worker }
    return ''
  })
const hand = () => run(over.hand)
function bringLines(rows: string[][]) {
  pastedLines.put(writeBlock(rows))
  void scope.change({ view: 'import' })
}
function crewFill() {
  said.value = here.value.line ? acts.crewFill(here.value.line) : ''
}
function billable() {
  const { line } = here.value
  if (line && !(line.locked && line.hours)) acts.billable(line, !line.billable)
}
const onLine = () => !!here.value.line
useLetters('The week', {
  n: { does: 'a new line', act: () => adder.value?.focus() },
  r: { does: 'repeat last week', act: () => repeat(true) },
  f: { does: 'crew fill, this row for everyone', act: crewFill, when: onLine },
  b: { does: 'billable or not', act: billable, when: onLine },
  t: { does: 'this entry: place, note, history', act: () => (more.value = !more.value), when: onLine },
})
useHelp('The week', [['Ctrl Enter', 'hand in']])
useEventListener(window, 'keydown', (event: KeyboardEvent) => {
  if (event.key !== 'Enter' || !event.ctrlKey || event.defaultPrevented) return
  event.preventDefault()
  void hand()
})
</script>

<template>
  <div class="sheet">
    <TimeHead view="week" :crews="sheet?.crews ?? []" :crew="sheet?.crew">
      <template #acts>
        <span v-if="outbox.wrong.length" class="said">{{ counted(outbox.wrong.length, 'cell') }} to put right</span>
        <v-menu>
          <template #activator="{ props }">
            <v-btn v-bind="props" :loading="busy"
              >{{ wide ? 'Repeat last week' : 'Repeat' }} <Icon :path="mdiChevronDown" :size="14"
            /></v-btn>
          </template>
          <v-list>
            <v-list-item title="Lines with their hours" subtitle="Alt R" @click="repeat(true)" />
            <v-list-item title="Lines only" @click="repeat(false)" />
            <template v-if="here.line">
              <v-list-item
                :title="`${here.line.worker.name}: lines with hours`"
                @click="repeat(true, here.line.worker.id)"
              />
              <v-list-item
                :title="`${here.line.worker.name}: lines only`"
                @click="repeat(false, here.line.worker.id)"
              />
            </template>
          </v-list>
        </v-menu>
        <v-btn v-if="wide" :disabled="!here.line" title="This row's hours for everyone (Alt F)" @click="crewFill"
          >Crew fill</v-btn
        >
        <MoreMenu :query="crewSheet.query.value" :can-fill="!wide && !!here.line" @fill="crewFill" />
        <v-btn v-if="money && wide" :aria-pressed="showWorkings" @click="showWorkings = !showWorkings">Workings</v-btn>
        <v-btn class="go" :loading="busy" :disabled="!sheet?.drafts" @click="hand">{{
          asks ? 'Hand in all the same' : 'Hand in'
        }}</v-btn>
      </template>
    </TimeHead>
    <div class="split" :style="{ gridTemplateColumns: showWorkings ? 'minmax(0, 1fr) 326px' : 'minmax(0, 1fr)' }">
      <section>
        <FirstHours v-if="nothing" />
        <Await v-else :of="crewSheet.asked" what="the crew sheet" />
        <template v-if="!nothing && sheet && choices">
          <CrewGrid
            ref="grid"
            :sheet="sheet"
            :lines="lines"
            :acts="acts"
            :today="scope.today.value"
            :money="money"
            :narrow="showWorkings && !wide"
            :more="more"
            :shown-entry="showWorkings ? entry : undefined"
            @at="(line, day) => (here = { line, day })"
            @say="said = $event"
            @names="bringLines"
            @workings="showWorkings = true"
          >
            <template #more="{ line, day, columns }"
              ><EntryMore
                :line="line"
                :day="day"
                :columns="columns"
                :choices="choices"
                :acts="acts"
                :money="money"
                @moved="(key) => nextTick(() => grid?.goTo(key, line.cells![day]!.date))"
                @close="((more = false), grid?.focus())"
            /></template>
            <template #add="{ columns }"
              ><AddLine
                ref="adder"
                :members="sheet.members ?? []"
                :choices="choices"
                :job="scope.job.value"
                :columns="columns"
                @add="add"
            /></template>
          </CrewGrid>
          <div class="ruled"></div>
          <div v-if="question" class="question" role="alert">
            <b>{{ question.asks }}</b>
            <v-btn class="small go" @click="repeat(question.hours, question.worker, 'empty')"
              >Only where there are none</v-btn
            >
            <v-btn class="small" @click="repeat(question.hours, question.worker, 'all')">On top of them</v-btn>
            <v-btn class="small" @click="question = undefined">Cancel</v-btn>
          </div>
          <div class="key one-line">
            <TrailKey /><span><i class="flag"></i>2.5 of it overtime</span
            ><b v-if="sheet.leave">{{ figure(sheet.leave) }} of the {{ figure(sheet.hours) }} hours are leave</b
            ><span class="soft">Alt T more of an entry, F1 all keys</span>
            <span class="told says" role="status">{{ said }}</span>
          </div>
        </template>
      </section>
      <Workings
        v-if="showWorkings"
        :of="entry ? { kind: 'entry', id: entry } : undefined"
        ask="Go to a cell with hours to see how its cost and charge came about."
        @close="showWorkings = false"
      />
    </div>
  </div>
</template>

<style scoped>
.question {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px 12px;
  padding: 8px 16px;
  background: var(--denim-wash);
  border-top: 1px solid var(--rule-strong);
}
.says {
  margin-left: auto;
}
</style>
