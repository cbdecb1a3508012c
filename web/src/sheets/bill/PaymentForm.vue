<script setup lang="ts">
import { useQuery, type UseQueryReturnType } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { answered, client, Refusal, type Schema } from '@/api/client'
import { useForm } from '@/book/form'
import { useChoices } from '@/book/scope'
import Await from '@/parts/Await.vue'
import FigureInput from '@/parts/FigureInput.vue'
import OrMeant from '@/parts/OrMeant.vue'
import FormCard from '@/parts/FormCard.vue'
import FormField from '@/parts/FormField.vue'
import Ledger from '@/parts/Ledger.vue'
import Pick from '@/parts/Pick.vue'
import { counted, figure, inWords, shortDay } from '@/parts/figures'
import type { Column } from '@/parts/ledger'
import { againstOf, paymentMethods } from './parts'

/** A payment of a customer over their open invoices: the oldest first, unless amounts are typed. */
const props = defineProps<{
  today: string
  /** The receipt in the bank that it records: its amount and its day are the bank's. */
  slip?: Schema['Slip']
}>()
const emit = defineEmits<{ done: []; close: [] }>()
type Open = Schema['OpenInvoice']
const { data: choices } = useChoices()
const customers = computed(() =>
  (choices.value?.customers ?? []).map((c) => ({ id: c.id, title: c.name, sub: c.code, retired: c.retired })),
)
/** What is typed for an invoice, by its id; the others are as proposed. */
const proposed = () => Object.fromEntries((props.slip?.on ?? []).map((a) => [a.invoiceId, a.amount ?? '']))
const hand = ref<Record<number, string>>(proposed())
/** What else a number that was typed was perhaps meant as. */
const doubts = ref<Record<number, string | undefined>>({})
const on = computed(() => againstOf(asked.data.value?.invoices ?? [], hand.value))
const form = useForm({
  blank: () => ({
    customerId: props.slip?.customerId,
    amount: props.slip?.amount ?? '',
    date: props.slip?.date ?? props.today,
    method: props.slip ? 'transfer' : '',
    reference: props.slip?.text?.slice(0, 140) ?? '',
    note: '',
  }),
  keep: ['date', 'method'],
  change: 'invoices',
  send: (body) =>
    answered(client.POST('/api/payments', { body: { ...body, bankLineId: props.slip?.id, on: on.value } })),
  done: () => emit('done'),
})
const amount = refDebounced(
  computed(() => form.model.amount),
  200,
)
const set = refDebounced(
  computed(() => Object.entries(hand.value).map(([id, typed]) => `${id}:${typed}`)),
  200,
)
const asked: UseQueryReturnType<Schema['OpenInvoices'], Error> = useQuery({
  queryKey: ['invoice', 'open', () => form.model.customerId, amount, set],
  queryFn: () =>
    answered(
      client.GET('/api/payments/open/{id}', {
        params: { path: { id: form.model.customerId! }, query: { amount: amount.value, set: set.value } },
      }),
    ),
  enabled: () => !!form.model.customerId,
  // While an amount is typed the rows stay; another customer's do not.
  placeholderData: (had, of) => (of?.queryKey[2] === form.model.customerId ? had : undefined),
})
watch(
  () => form.model.customerId,
  (id) => (hand.value = id === props.slip?.customerId ? proposed() : {}),
)
const rows = computed(() => (form.model.customerId ? (asked.data.value?.invoices ?? []) : []))
/** What would be left over, as the book works it out. */
const tried = useQuery({
  queryKey: ['invoice', 'payment', () => form.model.customerId, amount, on],
  queryFn: () =>
    answered(
      client.POST('/api/payments', {
        params: { query: { try: true } },
        body: { ...form.model, customerId: form.model.customerId!, amount: amount.value, on: on.value },
      }),
    ),
  enabled: () => !!form.model.customerId && !!amount.value,
  retry: false,
})
/** What is wrong so far, by field. */
const refused = computed(() => (tried.error.value instanceof Refusal ? tried.error.value.fields() : {}))
const wrong = (r: Open) => {
  const at = (on.value ?? []).findIndex((a) => a.invoiceId === r.id)
  const said = { ...refused.value, ...form.wrong }
  return at < 0 ? '' : inWords(said[`on[${at}].amount`] ?? said[`on[${at}].invoiceId`] ?? '')
}
const columns: Column<Open>[] = [
  { id: 'number', label: 'Invoice no.', width: 110, value: (r) => r.number },
  { id: 'title', label: 'What', value: (r) => r.title, tone: 'soft' },
  {
    id: 'due',
    label: 'Due',
    kind: 'date',
    width: 150,
    value: (r) => r.due,
    text: (r) => `${shortDay(r.due)}${r.daysLate ? `, ${counted(r.daysLate, 'day')} late` : ''}`,
    tone: (r) => (r.daysLate ? 'warnword' : ''),
  },
  { id: 'balance', label: 'Balance', kind: 'money', width: 120, value: (r) => r.balance, total: true, rule: true },
  {
    id: 'set',
    label: 'Paid of it',
    kind: 'money',
    width: 130,
    value: (r) => hand.value[r.id] ?? r.proposed ?? '',
    total: true,
  },
]
</script>

<template>
  <FormCard
    :form="form"
    :label="slip ? `Record receipt of ${slip.amount}` : 'Record payment'"
    submit="Record payment"
    cancel="Close"
    :idle="!form.model.customerId || !asked.data.value"
    @cancel="emit('close')"
  >
    <Pick
      v-model="form.model.customerId"
      label="Customer"
      :items="customers"
      :said="form.wrong.customerId"
      class="wide"
    />
    <template v-if="!slip">
      <FormField label="Amount" name="amount" kind="money" />
      <FormField label="Received on" name="date" kind="date" />
    </template>
    <FormField label="Method" name="method" size="short" :list="paymentMethods()" />
    <FormField label="Reference" name="reference" />
    <FormField label="Note" name="note" />
    <template #after>
      <Await v-if="form.model.customerId" :of="asked" what="their open invoices" quiet />
      <div v-if="form.model.customerId && asked.data.value" class="over">
        <Ledger
          v-if="rows.length"
          name="open-invoices"
          label="Open invoices"
          of="invoice"
          :columns="columns"
          :rows="rows"
          :row-key="(r) => r.id"
          :row-name="(r) => `invoice ${r.number}`"
          :under="(r) => !!wrong(r) || !!doubts[r.id]"
          flat
          bare
        >
          <template #set="{ row }"
            ><FigureInput
              :model-value="hand[row.id] ?? row.proposed"
              :aria-label="`Paid of invoice ${row.number}`"
              :aria-invalid="!!wrong(row)"
              @focus="($event.target as HTMLInputElement).select()"
              @update:model-value="hand = { ...hand, [row.id]: $event ?? '' }"
              @doubt="doubts = { ...doubts, [row.id]: $event }"
          /></template>
          <template #under="{ row }"
            ><span class="said" role="alert">{{ wrong(row) }}</span
            ><OrMeant
              :other="doubts[row.id]"
              @meant="((hand = { ...hand, [row.id]: $event }), (doubts = { ...doubts, [row.id]: undefined }))"
          /></template>
        </Ledger>
        <p v-else class="soft">Nothing is open: all of it becomes credit.</p>
        <p role="status">
          <template v-if="refused.amount"
            ><span class="said">{{ inWords(refused.amount) }}</span></template
          >
          <template v-else-if="Number(tried.data.value?.credit)"
            ><b>{{ figure(tried.data.value!.credit) }}</b> becomes the customer’s credit.</template
          >
          <template v-if="Number(asked.data.value.credit)">
            They have {{ figure(asked.data.value.credit) }} credit already.</template
          >
          <button v-if="on" type="button" class="lnk" @click="hand = {}">Oldest first again</button>
        </p>
      </div>
    </template>
  </FormCard>
</template>

<style scoped>
.over {
  flex: 1 1 100%;
  max-width: 56rem;
}
.over p {
  padding-top: 6px;
  min-height: 1.75rem;
}
.over :deep(input.num) {
  width: 100%;
  height: 1.625rem;
  border: 0;
  border-bottom: 1.5px solid var(--ink);
  background: none;
  color: var(--ink);
  font-weight: 580;
  text-align: right;
}
</style>
