<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, onBeforeUnmount, reactive, ref, watch } from 'vue'
import { answered, client, type Schema } from '@/api/client'
import { useAct } from '@/book/act'
import { leaving } from '@/book/leaving'
import Await from '@/parts/Await.vue'
import FormField from '@/parts/FormField.vue'
import Ledger from '@/parts/Ledger.vue'
import { counted, figure, moment, sumOf } from '@/parts/figures'
import type { Column } from '@/parts/ledger'
import { asSent, differs, stages, tickedNow, tones, type Edit } from '@/parts/messages'

/** Who is to be reminded, by how late they are; the message of the one in hand is at the right, to be read and changed first. */
/** The customer whose reminder is in hand. */
const opened = defineModel<number>()
type Row = Schema['Reminder']
const asked = useQuery({
  queryKey: ['messages', 'reminders'],
  queryFn: () => answered(client.GET('/api/reminders')),
})
const { busy, said, wrong, once } = useAct('messages')
const rows = computed(() => asked.data.value?.reminders ?? [])
const chosen = ref<(string | number)[]>([])
const edits = reactive<Record<number, Edit>>({})
const row = computed(() => rows.value.find((r) => r.customerId === opened.value))
watch(
  rows,
  (now, had) => {
    chosen.value = tickedNow(now, had, chosen.value)
    for (const was of had ?? []) {
      const is = now.find((r) => r.customerId === was.customerId)
      if (is && !differs(was, is)) continue
      delete edits[was.customerId] // what it said no longer holds
      if (opened.value === was.customerId) opened.value = undefined
    }
  },
  { immediate: true },
)
const isTyped = (r: Row) => {
  const typed = edits[r.customerId]
  return !!typed && (typed.to !== r.to || typed.subject !== r.subject || typed.body !== r.body)
}
onBeforeUnmount(leaving(() => rows.value.some(isTyped)))
const sending = computed(() => rows.value.filter((r) => chosen.value.includes(r.customerId)))
const sum = computed(() => sumOf(sending.value.map((r) => r.amount)))
const told = ref('')
function open(r: Row) {
  opened.value = r.customerId
  edits[r.customerId] ??= { to: r.to, subject: r.subject, body: r.body }
}
/** What is wrong with the reminder in hand, by its field. */
const wrongOf = (r: Row, field: string) => wrong.value[`reminders[${sending.value.indexOf(r)}].${field}`] ?? ''
const refused = computed(() => Object.values(wrong.value)[0] ?? said.value)
async function send() {
  const body = { reminders: sending.value.map((r) => asSent(r, edits[r.customerId])) }
  told.value = ''
  if (!(await once(body, (keyed) => answered(client.POST('/api/reminders', { body: keyed }))))) return
  told.value = `${counted(body.reminders.length, 'reminder')} on the way.`
  opened.value = undefined
  for (const { customerId } of body.reminders) delete edits[customerId]
}
const numbers = (r: Row) => (r.invoices ?? []).map((i) => i.number).join(', ')
const columns: Column<Row>[] = [
  {
    id: 'stage',
    label: 'Reminder',
    width: 150,
    value: (r) => stages[r.stage],
    sub: (r) => tones[r.stage],
  },
  {
    id: 'customer',
    label: 'Customer, invoices',
    value: (r) => r.customer,
    sub: numbers,
  },
  { id: 'late', label: 'Days late', kind: 'number', width: 74, value: (r) => r.daysLate },
  { id: 'amount', label: 'Overdue', kind: 'money', width: 104, value: (r) => r.amount, total: true, rule: true },
  {
    id: 'last',
    label: 'Before',
    width: 128,
    hideBelow: 1181,
    value: (r) => r.lastAt,
    text: (r) => (r.lastAt ? moment(r.lastAt) : 'none yet'),
    sub: (r) => (r.lastStage ? (stages[r.lastStage] ?? '').toLowerCase() : ''),
    tone: 'soft',
  },
]
</script>

<template>
  <Await v-slot="{ data }" :of="asked" what="the reminders">
    <Ledger
      v-model:chosen="chosen"
      name="reminders"
      label="Reminders"
      of="customer"
      :columns="columns"
      :rows="data.reminders ?? []"
      :row-key="(r) => r.customerId"
      :row-name="(r) => `reminder to ${r.customer}`"
      :opened="opened"
      opens
      chooses
      flat
      @open="open"
    >
      <template #tools
        ><h2 class="strong">Reminders</h2>
        <span class="said" role="alert">{{ refused }}</span>
        <span role="status">{{ told }}</span>
        <v-btn v-if="sending.length" class="small go" :loading="busy" @click="send"
          >Send {{ counted(sending.length, 'reminder') }}, {{ figure(sum) }}</v-btn
        ></template
      >
      <template #customer="{ row: r }"
        ><span class="two"
          ><span class="strong">{{ r.customer }}</span
          ><small :class="{ warnword: !r.to }">{{ r.to ? numbers(r) : 'no mail address' }}</small></span
        ></template
      >
      <template #empty>Nothing is overdue.</template>
    </Ledger>
    <Teleport v-if="row && edits[row.customerId]" defer to="#reminder-in-hand">
      <p class="bar soft">{{ stages[row.stage] }} reminder to {{ row.customer }}, as it goes out</p>
      <div class="letter-form" role="group" :aria-label="`Reminder to ${row.customer}`">
        <FormField v-model="edits[row.customerId]!.to" label="To" size="wide" :wrong="wrongOf(row, 'to')" />
        <FormField
          v-model="edits[row.customerId]!.subject"
          label="Subject"
          size="wide"
          :wrong="wrongOf(row, 'subject')"
        />
        <FormField
          v-model="edits[row.customerId]!.body"
          label="Text"
          kind="lines"
          :rows="16"
          size="wide"
          :wrong="wrongOf(row, 'body')"
        />
        <p class="soft">Attached: {{ row.invoices?.map((i) => `invoice ${i.number}`).join(', ') }}, PDF</p>
      </div>
    </Teleport>
  </Await>
</template>

<style scoped>
.bar {
  padding: 12px 0;
}
</style>
