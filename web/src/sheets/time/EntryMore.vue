<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, onBeforeUnmount, ref, watch } from 'vue'
import { answered, client, type Schema } from '@/api/client'
import { leaving, mayDiscard } from '@/book/leaving'
import FormField from '@/parts/FormField.vue'
import Await from '@/parts/Await.vue'
import HistoryList from '@/parts/HistoryList.vue'
import Pick from '@/parts/Pick.vue'
import { shortDay } from '@/parts/figures'
import type { crewActs } from './acts'
import type { SheetLine } from './lines'
import { usePlaces } from '@/parts/places'

/** One entry in words, under its line: where it is booked, on what terms, its note, its trail and its history. */
const props = defineProps<{
  line: SheetLine
  day: number
  columns: number
  choices: Schema['Choices']
  acts: ReturnType<typeof crewActs>
  money: boolean
}>()
const emit = defineEmits<{ close: []; moved: [key: string] }>()
const cell = computed(() => props.line.cells![props.day]!)
const whole = ref(!cell.value.entryId)
const places = usePlaces(() => props.choices)
const payClasses = [
  { id: 0, title: 'by the rules', value: 'auto' },
  { id: 1, title: 'regular', value: 'regular' },
  { id: 2, title: 'overtime', value: 'overtime' },
  { id: 3, title: 'double time', value: 'double' },
  { id: 4, title: 'leave, paid and not worked', value: 'leave' },
]
type Fields = ReturnType<typeof read>
const fields = ref(read())
/** The fields as the book has them: what differs from them was typed. */
const opened = ref(read())
const dirty = computed(() => JSON.stringify(fields.value) !== JSON.stringify(opened.value))
onBeforeUnmount(leaving(() => dirty.value))
watch(
  () => [`${props.line.key} ${cell.value.entryId}`, JSON.stringify(read())] as const,
  ([of], [was]) => {
    const now = read()
    const typed = (Object.keys(now) as (keyof Fields)[]).filter((name) => fields.value[name] !== opened.value[name])
    const kept = of === was ? Object.fromEntries(typed.map((name) => [name, fields.value[name]])) : {}
    fields.value = { ...now, ...kept }
    opened.value = now
  },
)
function read() {
  const { job, phase, costCode, payClass, rate } = props.line
  return { job: job.id, phase: phase?.id, code: costCode?.id, payClass, rate: rate ?? '', note: cell.value.note ?? '' }
}
const phases = computed(() => places.phases(fields.value.job))
const locked = computed(() => cell.value.locked || (props.line.locked && props.line.hours ? 'locked' : ''))
const history = useQuery({
  queryKey: ['history', () => cell.value.entryId],
  queryFn: () =>
    answered(client.GET('/api/time/entries/{id}/history', { params: { path: { id: cell.value.entryId! } } })),
  enabled: () => !!cell.value.entryId,
})

function save() {
  const place = places.place(fields.value.job, fields.value.phase, fields.value.code)
  if (!place) return
  const patch = {
    ...place,
    payClass: fields.value.payClass,
    ...(fields.value.payClass === 'leave' ? { billable: false } : {}),
    ...(props.money ? { rate: fields.value.rate.trim() || undefined, ownRate: !!fields.value.rate.trim() } : {}),
  }
  const key =
    whole.value || !cell.value.entryId
      ? props.acts.move(props.line, patch, `${props.line.worker.name}'s line changed`)
      : props.acts.detail(props.line, props.day, patch, fields.value.note.trim())
  opened.value = { ...fields.value }
  emit('moved', key)
}
const close = async () => (await mayDiscard(() => dirty.value)) && emit('close')
</script>

<template>
  <tr class="more">
    <td :colspan="columns">
      <form aria-label="This entry" @submit.prevent="save" @keydown.esc.stop="close">
        <fieldset :disabled="!!locked">
          <legend class="sr">Where it is booked and on what terms</legend>
          <Pick v-model="fields.job" label="Job" :items="places.jobs.value" class="wide" />
          <Pick v-if="phases.length" v-model="fields.phase" label="Phase" :items="phases" />
          <Pick v-model="fields.code" label="Cost code" :items="places.codes.value" />
          <label class="field"
            ><span>Pay class</span
            ><select v-model="fields.payClass">
              <option v-for="p in payClasses" :key="p.value" :value="p.value">{{ p.title }}</option>
            </select></label
          >
          <FormField
            v-if="money"
            v-model="fields.rate"
            label="Own rate"
            kind="money"
            hint="by the card"
            class="short"
          />
          <label v-if="cell.entryId && !whole" class="field note"
            ><span>Note for {{ shortDay(cell.date) }}</span
            ><input v-model="fields.note" maxlength="500"
          /></label>
          <label v-if="cell.entryId" class="which"
            ><input v-model="whole" type="checkbox" class="box" /> the whole line</label
          >
          <v-btn class="small go" type="submit">Save</v-btn>
        </fieldset>
        <button class="soft close" type="button" @click="close">close <kbd>Esc</kbd></button>
      </form>
      <p v-if="locked" class="soft">{{ cell.locked || 'All of this line is locked' }}.</p>
      <p v-if="cell.entryId" class="trail-words">{{ cell.reading }}; {{ line.trail.text }}</p>
      <Await v-if="cell.entryId" v-slot="{ data }" :of="history" what="its history">
        <HistoryList :lines="data ?? []" />
      </Await>
    </td>
  </tr>
</template>

<style scoped>
.more td {
  height: auto;
  white-space: normal;
  overflow: visible;
  background: var(--paper-back);
  padding: 8px 16px 10px;
}
form,
fieldset {
  display: flex;
  align-items: flex-start;
  gap: 14px;
  border: 0;
  padding: 0;
  margin: 0;
}
fieldset {
  flex: 1;
  flex-wrap: wrap;
}
fieldset > * {
  width: 8.25rem;
}
fieldset .wide {
  width: 13.125rem;
}
fieldset .short {
  width: 5.5rem;
}
fieldset .note {
  width: 12.5rem;
}
.which,
fieldset .go {
  width: auto;
  display: flex;
  gap: 6px;
  align-items: center;
  height: 1.75rem;
  margin-top: 12px;
}
.trail-words {
  padding-top: 8px;
}
</style>
