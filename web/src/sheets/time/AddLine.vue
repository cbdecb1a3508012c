<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Schema } from '@/api/client'
import Pick from '@/parts/Pick.vue'
import type { NewLine } from './crewSheet'

/** A new line of the crew sheet: who, on which job, phase and cost code. */
const props = defineProps<{ members: Schema['Named'][]; choices: Schema['Choices']; job: string; columns: number }>()
const emit = defineEmits<{ add: [line: NewLine] }>()
const worker = ref<number>()
const job = ref<number | undefined>(props.choices.jobs?.find((j) => j.number === props.job)?.id)
const phase = ref<number>()
const code = ref<number>()
const said = ref('')
const row = ref<HTMLElement>()

const workers = computed(() => props.members.map((m) => ({ id: m.id, title: m.name, sub: m.sub })))
const jobs = computed(() =>
  (props.choices.jobs ?? [])
    .filter((j) => j.status !== 'closed')
    .map((j) => ({ id: j.id, title: `${j.number} ${j.name}`, sub: j.customer || 'own' })),
)
const phases = computed(() =>
  (props.choices.phases ?? [])
    .filter((p) => p.jobId === job.value)
    .map((p) => ({ id: p.id, title: p.name || p.code, sub: p.code })),
)
const codes = computed(() => (props.choices.costCodes ?? []).map((c) => ({ id: c.id, title: `${c.code} ${c.name}` })))

function add() {
  const w = props.members.find((m) => m.id === worker.value)
  const j = props.choices.jobs?.find((x) => x.id === job.value)
  if (!w || !j) {
    said.value = w ? 'Choose the job' : 'Choose the worker'
    return
  }
  said.value = ''
  const p = props.choices.phases?.find((x) => x.id === phase.value && x.jobId === j.id)
  const c = props.choices.costCodes?.find((x) => x.id === code.value)
  emit('add', {
    worker: w,
    job: { id: j.id, code: j.number, name: j.name },
    phase: p && { id: p.id, code: p.code, name: p.name },
    costCode: c,
  })
  worker.value = undefined
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
        <Pick v-model="job" label="Job" :items="jobs" placeholder="job" hide-label class="pick wide" />
        <Pick
          v-if="phases.length"
          v-model="phase"
          label="Phase"
          :items="phases"
          placeholder="phase"
          hide-label
          class="pick"
        />
        <Pick v-model="code" label="Cost code" :items="codes" placeholder="cost code" hide-label class="pick" />
        <v-btn class="small" type="submit">Add line</v-btn>
        <span v-if="said" class="said" role="alert">{{ said }}</span>
      </form>
    </td>
  </tr>
</template>

<style scoped>
.add td {
  overflow: visible;
  height: 40px;
}
.fields {
  display: flex;
  gap: 14px;
  align-items: center;
}
.pick {
  width: 170px;
}
.wide {
  width: 240px;
}
</style>
