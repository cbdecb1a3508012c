<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Schema } from '@/api/client'
import DateField from '@/parts/DateField.vue'
import Pick from '@/parts/Pick.vue'
import type { Place } from '@/book/outbox'
import { usePlaces } from '@/parts/places'
import { termsOf } from './lines'

/** New lines of the crew sheet: who, or the whole crew, on which job, phase and cost code. */
const props = defineProps<{
  members: Schema['Named'][]
  choices: Schema['Choices']
  job: string
  columns: number
  /** The day that hours are offered for; lines alone where there is none. */
  day?: string
}>()
const emit = defineEmits<{ add: [lines: Place[], date: string, hours: string] }>()
const date = ref(props.day ?? '')
const hours = ref('')
const wholeCrew = -1
const worker = ref<number>()
const job = ref<number | undefined>(props.choices.jobs?.find((j) => j.number === props.job)?.id)
const phase = ref<number>()
const code = ref<number>()
/** Paid and not worked: time off, sick, a holiday. */
const leave = ref(false)
const said = ref('')
const row = ref<HTMLElement>()
const places = usePlaces(() => props.choices)

const workers = computed(() => [
  { id: wholeCrew, title: 'The whole crew', sub: `${props.members.length} workers` },
  ...props.members.map((m) => ({ id: m.id, title: m.name, sub: m.sub })),
])
const phases = computed(() => places.phases(job.value))

function add() {
  const who = props.members.filter((m) => worker.value === wholeCrew || m.id === worker.value)
  const place = places.place(job.value, phase.value, code.value)
  if (!who.length || !place) {
    said.value = who.length ? 'Choose the job' : 'Choose the worker'
    return
  }
  if (props.day && !hours.value.trim()) {
    said.value = 'Type the hours'
    return
  }
  said.value = ''
  const lines = who.map((w) => ({ worker: w, ...place, ...termsOf(leave.value) }))
  emit('add', lines, date.value, hours.value.trim())
  worker.value = undefined
  hours.value = ''
}
function focus() {
  row.value?.querySelector('input')?.focus()
}
defineExpose({ focus })
</script>

<template>
  <tr ref="row" class="add">
    <td :colspan="columns">
      <form class="fields" aria-label="Add a line" @submit.prevent="add">
        <Pick
          v-model="worker"
          label="Worker"
          :items="workers"
          placeholder="Add a line: worker"
          hide-label
          class="pick"
        />
        <Pick v-model="job" label="Job" :items="places.jobs.value" placeholder="job" hide-label class="pick wide" />
        <Pick
          v-if="phases.length"
          v-model="phase"
          label="Phase"
          :items="phases"
          placeholder="phase"
          hide-label
          class="pick"
        />
        <Pick
          v-model="code"
          label="Cost code"
          :items="places.codes.value"
          placeholder="cost code"
          hide-label
          class="pick"
        />
        <label class="leave" title="Paid and not worked: time off, sick, a holiday"
          ><input v-model="leave" type="checkbox" class="box" /> leave</label
        >
        <template v-if="day">
          <DateField v-model="date" class="date" label="Date" />
          <input v-model="hours" class="hours" aria-label="Hours" placeholder="7-3:30" autocomplete="off" />
        </template>
        <v-btn class="small" type="submit">{{ day ? 'Add' : 'Add line' }}</v-btn>
        <span v-if="said" class="said" role="alert">{{ said }}</span>
      </form>
    </td>
  </tr>
</template>

<style scoped>
.add td {
  overflow: visible;
  height: 2.5rem;
}
.fields {
  display: flex;
  gap: 14px;
  align-items: center;
}
.pick {
  flex: 0 1 11.875rem;
  min-width: 6rem;
}
.wide {
  flex-basis: 15rem;
}
.leave {
  display: flex;
  gap: 6px;
  align-items: center;
}
.date {
  flex: none;
  width: 9.375rem;
}
.hours {
  height: 1.625rem;
  border: 0;
  border-bottom: 1.5px solid var(--ink);
  background: none;
}
.hours {
  width: 6rem;
}
</style>
