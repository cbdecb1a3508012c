<script setup lang="ts">
import { ref } from 'vue'
import { answered, client, newKey } from '@/api/client'
import FormField from '@/parts/FormField.vue'
import { day } from '@/parts/figures'
import { placeKey, type ClockPage, type OwnPlace } from './own'

/** Hours for a day that was not clocked. */
const props = defineProps<{
  date: string
  places: OwnPlace[]
  run: (call: () => Promise<ClockPage>) => Promise<boolean>
}>()
const emit = defineEmits<{ done: [] }>()
const hours = ref('')
const chosen = ref(props.places[0] ? placeKey(props.places[0]) : '')
const key = newKey()

async function save() {
  const place = props.places.find((p) => placeKey(p) === chosen.value)
  if (!place) return
  const { jobId, phaseId, costCodeId } = place
  const body = { key, date: props.date, text: hours.value, jobId, phaseId, costCodeId }
  if (await props.run(() => answered(client.POST('/api/clock/hours', { body })))) emit('done')
}
</script>

<template>
  <form class="fill" :aria-label="`Hours of ${day(date)}`" @submit.prevent="save">
    <b>{{ day(date) }}</b>
    <FormField v-model="hours" label="Hours, such as 8 or 7-3:30/30" />
    <FormField
      v-model="chosen"
      label="Job"
      kind="choice"
      :options="places.map((p) => [placeKey(p), `${p.job}${p.detail ? `, ${p.detail}` : ''}`] as const)"
    />
    <div class="acts">
      <v-btn @click="emit('done')">Cancel</v-btn>
      <v-btn class="go" type="submit">Save hours</v-btn>
    </div>
  </form>
</template>

<style scoped>
.fill {
  display: grid;
  gap: 12px;
  padding: 14px 0 18px;
  border-top: 1px solid var(--ink);
}
.acts {
  display: flex;
  gap: 10px;
}
.acts > * {
  flex: 1;
  height: 2.875rem;
}
</style>
