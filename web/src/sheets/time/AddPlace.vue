<script setup lang="ts">
import { mdiPlus } from '@mdi/js'
import { computed, ref } from 'vue'
import type { Schema } from '@/api/client'
import Icon from '@/parts/Icon.vue'
import Pick from '@/parts/Pick.vue'
import type { DayPlace } from './day'
import { usePlaces } from '@/parts/places'

/** One more job across the day sheet. */
const props = defineProps<{ choices: Schema['Choices']; job: string }>()
const emit = defineEmits<{ add: [place: DayPlace] }>()
const open = ref(false)
const job = ref<number | undefined>(props.choices.jobs?.find((j) => j.number === props.job)?.id)
const phase = ref<number>()
const code = ref<number>()
const billable = ref(true)
const places = usePlaces(() => props.choices)
const phases = computed(() => places.phases(job.value))

function add() {
  const place = places.place(job.value, phase.value, code.value)
  if (!place) return
  open.value = false
  emit('add', { ...place, billable: billable.value, payClass: 'auto' })
}
</script>

<template>
  <v-menu v-model="open" :close-on-content-click="false" location="bottom end">
    <template #activator="{ props: opens }">
      <v-btn v-bind="opens"><Icon :path="mdiPlus" :size="16" /> Job</v-btn>
    </template>
    <form class="paper" aria-label="Add a job" @submit.prevent="add">
      <Pick v-model="job" label="Job" :items="places.jobs.value" />
      <Pick v-if="phases.length" v-model="phase" label="Phase" :items="phases" />
      <Pick v-model="code" label="Cost code" :items="places.codes.value" />
      <label><input v-model="billable" type="checkbox" class="box" /> billable</label>
      <v-btn class="go small" type="submit">Add the job</v-btn>
    </form>
  </v-menu>
</template>

<style scoped>
.paper {
  width: 16.25rem;
  padding: 14px;
  display: grid;
  gap: 12px;
  background: var(--paper);
  border: 1px solid var(--rule-strong);
}
.paper label {
  display: flex;
  gap: 7px;
  align-items: center;
}
</style>
