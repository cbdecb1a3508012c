<script setup lang="ts">
import { mdiChevronDown } from '@mdi/js'
import { useEventListener, useMediaQuery } from '@vueuse/core'
import { computed, nextTick, ref } from 'vue'
import Icon from '@/parts/Icon.vue'
import SheetHead from '@/parts/SheetHead.vue'
import TrailKey from '@/parts/TrailKey.vue'
import Workings from '@/parts/Workings.vue'
import { useWorkings } from '@/parts/workings'
import { useFooting } from '@/shell/footing'
import { typing } from '@/shell/keys'
import { useScope } from '@/shell/scope'
import { useSession } from '@/shell/session'
import AddLine from './AddLine.vue'
import CrewGrid from './CrewGrid.vue'
import { useCrewSheet, type NewLine, type SheetLine } from './crewSheet'

const scope = useScope()
const session = useSession()
const footing = useFooting()
const { sheet, lines, error, isLoading, crew, wrong, added, type, setBillable, handIn } = useCrewSheet(scope)
const entry = ref<number>()
const adder = ref<{ focus: () => void }>()
const said = ref('')
const handing = ref(false)
const wide = useMediaQuery('(min-width: 1180px)')
const choices = scope.choices
const money = computed(() => session.can('money'))
const showWorkings = useWorkings(() => money.value)
const nothing = computed(() => !!choices.value && (!choices.value.workers?.length || !choices.value.jobs?.length))

function add(line: NewLine) {
  added.value.push(line)
  void nextTick(() => {
    const at = lines.value.findIndex((l) => l.worker.id === line.worker.id && l.job.id === line.job.id && !l.hours)
    document.querySelector<HTMLInputElement>(`[data-line="${at}"] td[data-day="0"] input`)?.focus()
  })
}
async function hand() {
  said.value = ''
  if (wrong.size) {
    said.value = 'Put the marked cells right first'
    return
  }
  handing.value = true
  try {
    await handIn()
    footing.saved()
  } catch (refused) {
    said.value = (refused as Error).message
  } finally {
    handing.value = false
  }
}
function typedIn(line: SheetLine, day: number, text: string) {
  const cell = line.cells?.[day]
  if (cell) type(line, cell, text)
}
useEventListener(window, 'keydown', (event: KeyboardEvent) => {
  if (event.key === 'n' && !typing(event)) {
    event.preventDefault()
    adder.value?.focus()
  } else if (event.key === 'Enter' && event.ctrlKey) {
    event.preventDefault()
    void hand()
  }
})
</script>

<template>
  <div class="sheet">
    <SheetHead title="Time" week-only>
      <div class="blank">
        <span class="label">Crew</span>
        <v-menu>
          <template #activator="{ props }">
            <button class="blank-value" v-bind="props">
              {{ crew || 'all crews' }} <Icon :path="mdiChevronDown" />
            </button>
          </template>
          <v-list>
            <v-list-item title="all crews" @click="scope.change({ crew: '' })" />
            <v-list-item v-for="c in sheet?.crews" :key="c" :title="c" @click="scope.change({ crew: c })" />
          </v-list>
        </v-menu>
      </div>
      <template #acts>
        <span v-if="said" class="said" role="alert">{{ said }}</span>
        <span v-else-if="wrong.size" class="said"
          >{{ wrong.size }} {{ wrong.size === 1 ? 'cell' : 'cells' }} to put right</span
        >
        <v-btn v-if="money" :aria-pressed="showWorkings" @click="showWorkings = !showWorkings">Workings</v-btn>
        <v-btn class="go" :loading="handing" :disabled="!sheet?.drafts" @click="hand">Hand in</v-btn>
      </template>
    </SheetHead>
    <div class="split" :style="{ gridTemplateColumns: showWorkings ? 'minmax(0, 1fr) 326px' : 'minmax(0, 1fr)' }">
      <section>
        <p v-if="error" class="said empty" role="alert">{{ error.message }}</p>
        <p v-else-if="isLoading" class="empty soft" role="status">Opening the sheet…</p>
        <div v-else-if="nothing" class="empty">
          <h2>Nobody has worked here yet</h2>
          <p class="soft">Hours go here, a crew and a week to a sheet. One of each is enough to begin.</p>
          <ol>
            <li>
              <span>1</span><b>A worker</b><span class="soft">name, trade and wage</span
              ><v-btn class="go" to="/setup?part=workers&add=yes">Add the first worker</v-btn>
            </li>
            <li>
              <span>2</span><b>A job</b><span class="soft">number, customer, how it is billed</span
              ><v-btn to="/jobs?add=yes">Open a job</v-btn>
            </li>
            <li>
              <span>3</span><b>An hour</b><span class="soft">type 8 where the worker meets the day</span
              ><span class="soft">then it is booked</span>
            </li>
          </ol>
        </div>
        <template v-else-if="sheet && choices">
          <div class="scroll">
            <CrewGrid
              :sheet="sheet"
              :lines="lines"
              :wrong="wrong"
              :today="scope.today.value"
              :money="money"
              :narrow="showWorkings && !wide"
              :shown-entry="showWorkings ? entry : undefined"
              @type="typedIn"
              @billable="setBillable"
              @entry="entry = $event"
              @workings="showWorkings = true"
            >
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
          <div class="key">
            <TrailKey /><span><i class="flag"></i>2.5 of it overtime</span>
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
