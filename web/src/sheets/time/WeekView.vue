<script setup lang="ts">
import { mdiChevronDown } from '@mdi/js'
import { useQueryClient } from '@tanstack/vue-query'
import { useEventListener, useMediaQuery } from '@vueuse/core'
import { computed, nextTick, ref, watch } from 'vue'
import Icon from '@/parts/Icon.vue'
import TrailKey from '@/parts/TrailKey.vue'
import { counted } from '@/parts/figures'
import Workings from '@/parts/Workings.vue'
import { useWorkings } from '@/parts/workings'
import { answered, client } from '@/api/client'
import { useFooting } from '@/book/footing'
import { useHandIn } from '@/book/handIn'
import { forSheet } from '@/book/keys'
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
import { writeBlock } from './clipboard'
import { pastedLines } from './pasted'
import MoreMenu from './MoreMenu.vue'
import { keyOf, type SheetLine } from './lines'
import TimeHead from './TimeHead.vue'

const scope = useScope()
const session = useSession()
const footing = useFooting()
const outbox = useOutbox()
const undo = useUndo()
const queries = useQueryClient()
const crewSheet = useCrewSheet(scope)
const { sheet, lines, error, isLoading } = crewSheet
const choices = scope.choices
const acts = crewActs(crewSheet, () => choices.value)
const here = ref<{ line?: SheetLine; day: number }>({ day: 0 })
const more = ref(false)
const adder = ref<{ focus: () => void }>()
const grid = ref<{ goTo: (key: string, day: number) => void; focus: () => void }>()
const said = ref('')
const busy = ref(false)
const { asks, handIn } = useHandIn()
watch(crewSheet.query, () => (asks.value = ''))
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
  void nextTick(() => grid.value?.goTo(first, 0))
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
const repeat = (hours: boolean, worker?: number) => run(() => acts.repeat(hours, worker))
const hand = () =>
  run(async () => {
    if (outbox.wrong.length) return 'Put the marked cells right first'
    if (outbox.items.length) return 'Not all is saved yet; hand in when it is'
    const query = crewSheet.query.value
    const answer = await handIn((ahead) => answered(client.POST('/api/time/hand-in', { body: { ...query, ahead } })))
    if (answer.unread) void queries.invalidateQueries({ queryKey: ['time'] })
    else queries.setQueryData(['time', query], answer)
    for (const other of ['approve', 'bill', 'today', 'history', 'counts'])
      void queries.invalidateQueries({ queryKey: [other] })
    footing.saved()
    return 'Handed in'
  })
function bringLines(rows: string[][]) {
  pastedLines.put(writeBlock(rows))
  void scope.change({ view: 'import' })
}
function command(letter: string, line?: SheetLine) {
  said.value = ''
  if (letter === 't') more.value = !more.value
  else if (letter === 'w') showWorkings.value = money.value && !showWorkings.value
  else if (line && letter === 'b' && !(line.locked && line.hours)) acts.billable(line, !line.billable)
  else if (line && letter === 'f') said.value = acts.crewFill(line)
}
useEventListener(window, 'keydown', (event: KeyboardEvent) => {
  if (event.key === 'Enter' && event.ctrlKey && !event.defaultPrevented) {
    event.preventDefault()
    void hand()
  } else if (forSheet(event)) {
    if (event.key === 'n') adder.value?.focus()
    else if (event.key === 'r') void repeat(true)
    else return
    event.preventDefault()
  }
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
            <v-list-item title="Lines with their hours" subtitle="r" @click="repeat(true)" />
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
        <v-btn
          v-if="wide"
          :disabled="!here.line"
          title="This row's hours for everyone (f)"
          @click="command('f', here.line)"
          >Crew fill</v-btn
        >
        <MoreMenu :query="crewSheet.query.value" :can-fill="!wide && !!here.line" @fill="command('f', here.line)" />
        <v-btn v-if="money && wide" :aria-pressed="showWorkings" @click="showWorkings = !showWorkings">Workings</v-btn>
        <v-btn class="go" :loading="busy" :disabled="!sheet?.drafts" @click="hand">{{
          asks ? 'Hand in all the same' : 'Hand in'
        }}</v-btn>
      </template>
    </TimeHead>
    <div class="split" :style="{ gridTemplateColumns: showWorkings ? 'minmax(0, 1fr) 326px' : 'minmax(0, 1fr)' }">
      <section>
        <p v-if="error && !sheet" class="said empty" role="alert">{{ error.message }}</p>
        <p v-else-if="isLoading" class="empty soft" role="status">Opening the sheet…</p>
        <FirstHours v-else-if="nothing" />
        <template v-else-if="sheet && choices">
          <div class="scroll">
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
              @command="command"
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
                  @moved="(key) => nextTick(() => grid?.goTo(key, day))"
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
          </div>
          <div class="ruled"></div>
          <div class="key one-line">
            <TrailKey /><span><i class="flag"></i>2.5 of it overtime</span
            ><span class="soft">t more of an entry, ? all keys</span>
            <span v-if="said" class="told says" role="status">{{ said }}</span>
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
.says {
  margin-left: auto;
}
</style>
