<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watchEffect } from 'vue'
import { answered, client, type Schema } from '@/api/client'
import { useAct } from '@/book/act'
import { useFooting } from '@/book/footing'
import { unkeyed, useForm } from '@/book/form'
import { useScope } from '@/book/scope'
import Await from '@/parts/Await.vue'
import FormCard from '@/parts/FormCard.vue'
import FormField from '@/parts/FormField.vue'
import Ledger from '@/parts/Ledger.vue'
import { counted, figure, shortDay } from '@/parts/figures'
import type { Column } from '@/parts/ledger'
import PaymentForm from './PaymentForm.vue'
import SaidByBank from './SaidByBank.vue'
import { base64, pays, sureOf, takenAs } from './bank'

/** Receipts in the bank: what is sure is recorded in one step, the others one by one, with what is proposed and why. */
const scope = useScope()
const footing = useFooting()
type Slip = Schema['Slip']
const asked = useQuery({ queryKey: ['bill', 'bank'], queryFn: () => answered(client.GET('/api/bank')) })
const { busy, said, wrong, once, act } = useAct('invoices')
/** What is wrong with a statement, or with one of the receipts that were taken together. */
const refused = computed(() => Object.values(wrong.value)[0] ?? said.value)
const told = ref('')
const opened = ref<number>()
const aside = ref(false)
/** A table whose columns are not known yet. */
const ask = ref<Schema['BankAsk']>()
let content = ''
async function read(field: HTMLInputElement) {
  const file = field.files?.[0]
  if (!file) return
  told.value = ''
  content = await base64(file)
  field.value = '' // so that the same file can be chosen once more
  const out = await act(() => answered(client.POST('/api/bank/statement', { body: { content } })))
  if (out) show(out)
}
function show(out: Schema['BankRead']) {
  ask.value = out.ask
  if (out.ask) columns.reset(out.ask.guess)
  else told.value = `${counted(out.new, 'new movement')}${out.known ? `, ${out.known} were read before` : ''}.`
}
const columns = useForm({
  blank: (): Schema['BankColumns'] => ask.value?.guess ?? { date: '', order: 'ymd' },
  change: 'invoices',
  send: (body) => answered(client.POST('/api/bank/statement', { body: { content, columns: unkeyed(body) } })),
  done: show,
})
const heads = computed(() => [['', 'none'] as const, ...(ask.value?.heads ?? []).map((h) => [h, h] as const)])
const sure = computed(() => sureOf(asked.data.value))
const setAside = computed(() => asked.data.value?.setAside ?? [])
const others = computed(() => (asked.data.value?.slips ?? []).filter((s) => !s.sure))
async function take(slips: Slip[]) {
  const body = { slips: slips.map(takenAs) }
  const done = await once(body, (keyed) => answered(client.POST('/api/bank/take', { body: keyed })))
  if (done) {
    opened.value = undefined
    told.value = `${counted(slips.length, 'payment')} recorded.`
  }
}
const form = useForm({
  blank: () => ({ reason: '' }),
  change: 'invoices',
  send: ({ reason }) =>
    answered(
      client.POST('/api/bank/{id}/aside', { params: { path: { id: opened.value! } }, body: { reason, was: '' } }),
    ),
  done: () => (opened.value = undefined),
})
const back = (s: Slip) =>
  act(() =>
    answered(client.POST('/api/bank/{id}/aside', { params: { path: { id: s.id } }, body: { back: true, was: s.why } })),
  )
function open(s: Slip, setAside = false) {
  const same = opened.value === s.id && aside.value === setAside
  opened.value = same ? undefined : s.id
  aside.value = setAside
  form.reset()
}
watchEffect(() => {
  const b = asked.data.value
  footing.show('Bank', [
    { label: 'Not recorded', value: b?.open ?? '0' },
    { label: 'Sure', value: b?.sureSum ?? '0' },
    { label: 'Came in', value: b?.in ?? '0' },
    { label: 'Recorded', value: b?.recorded ?? '0' },
    { label: 'Set aside', value: b?.aside ?? '0' },
    { label: 'Went out', value: b?.out ?? '0' },
  ])
})
const list: Column<Slip>[] = [
  { id: 'date', label: 'Date', kind: 'date', width: 96, value: (s) => s.date, text: (s) => shortDay(s.date) },
  {
    id: 'from',
    label: 'What the bank says',
    value: (s) => s.name || s.text || '',
    sub: (s) => (s.name ? s.text || '' : ''),
  },
  { id: 'pays', label: 'Pays', width: 340, value: pays, sub: (s) => s.why },
  { id: 'amount', label: 'Amount', kind: 'money', width: 110, value: (s) => s.amount, total: true, rule: true },
]
const reasons = list.map((c) =>
  c.id === 'pays' ? { id: 'why', label: 'Reason', width: 340, value: (s: Slip) => s.why } : c,
)
const acts: Column<Slip> = { id: 'acts', label: 'Next step', width: 250, value: () => '', acts: true }
</script>

<template>
  <Await v-slot="{ data }" :of="asked" what="the bank">
    <section class="listing">
      <Teleport defer to="#bill-acts">
        <span class="said" role="alert">{{ refused }}</span>
        <label class="v-btn file" :class="{ busy }"
          >Read a statement<input
            class="sr"
            type="file"
            accept=".xml,.csv,.txt"
            aria-label="Read a statement"
            @change="read($event.target as HTMLInputElement)"
        /></label>
      </Teleport>
      <p v-if="told" class="padded" role="status">{{ told }}</p>
      <FormCard
        v-if="ask"
        :form="columns"
        label="Columns of the statement"
        submit="Read it"
        cancel="Cancel"
        @cancel="ask = undefined"
      >
        <FormField label="Date" name="date" kind="choice" :options="heads" />
        <FormField
          label="Dates are written"
          name="order"
          kind="choice"
          :options="[
            ['ymd', 'year first'],
            ['dmy', 'day first'],
            ['mdy', 'month first'],
          ]"
        />
        <FormField label="Amount" name="amount" kind="choice" :options="heads" />
        <FormField label="or came in" name="in" kind="choice" :options="heads" />
        <FormField label="and went out" name="out" kind="choice" :options="heads" />
        <FormField label="Who paid" name="name" kind="choice" :options="heads" />
        <FormField label="Text" name="text" kind="choice" :options="heads" />
        <FormField label="The bank’s reference" name="ref" kind="choice" :options="heads" />
        <template #after
          ><span class="said" role="alert">{{ columns.wrong.columns ?? columns.wrong.content }}</span
          ><span class="soft"
            >You are asked once; statements with the same headings are read the same way. The first row:
            {{ ask.rows?.[0]?.join(' · ') }}</span
          ></template
        >
      </FormCard>
      <Ledger
        v-if="sure.length"
        name="bank-sure"
        label="Sure"
        of="receipt"
        :columns="list"
        :rows="sure"
        :row-key="(s) => s.id"
        flat
      >
        <template #tools
          ><h2 class="strong">Sure</h2>
          <v-btn class="small go" :loading="busy" @click="take(sure)"
            >Record {{ counted(sure.length, 'payment') }}, {{ figure(data.sureSum) }}</v-btn
          ></template
        >
        <template #from="{ row }"><SaidByBank :slip="row" /></template>
      </Ledger>
      <Ledger
        name="bank"
        label="Receipts in the bank"
        of="receipt"
        :columns="[...list, acts]"
        :rows="others"
        :row-key="(s) => s.id"
        :row-name="(s) => `receipt of ${s.amount}`"
        :opened="opened"
        opens
        @open="(s) => open(s)"
      >
        <template #tools
          ><h2 class="strong">To check</h2>
          <span class="soft">one by one</span></template
        >
        <template #from="{ row }"><SaidByBank :slip="row" /></template>
        <template #acts="{ row }"
          ><span class="steps"
            ><button v-if="row.customerId" class="lnk" :disabled="busy" @click.stop="take([row])">
              {{ row.paymentId ? 'Already recorded' : 'Record' }}</button
            ><button class="lnk" @click.stop="open(row)">{{ row.customerId ? 'Change' : 'Choose customer' }}</button
            ><button class="lnk" @click.stop="open(row, true)">Set aside</button></span
          ></template
        >
        <template #below="{ row }">
          <FormCard
            v-if="aside"
            :form="form"
            label="Set aside"
            submit="Set aside"
            cancel="Cancel"
            @cancel="opened = undefined"
          >
            <FormField
              label="Reason"
              name="reason"
              size="wide"
              :list="['interest', 'own transfer', 'refund of a supplier']"
              focus
            />
          </FormCard>
          <PaymentForm
            v-else
            :key="row.id"
            :slip="row"
            :today="scope.today.value"
            @done="opened = undefined"
            @close="opened = undefined"
          />
        </template>
        <template #empty>{{
          data.lines
            ? 'All receipts are recorded.'
            : 'Read a statement of the bank: camt.053, or a table with a date and an amount. Each movement comes in once.'
        }}</template>
      </Ledger>
      <Ledger
        v-if="setAside.length"
        name="bank-aside"
        label="Set aside"
        of="receipt"
        :columns="[...reasons, acts]"
        :rows="setAside"
        :row-key="(s) => s.id"
        flat
      >
        <template #tools><h2 class="strong">Set aside</h2></template>
        <template #acts="{ row }"><button class="lnk" :disabled="busy" @click="back(row)">Bring back</button></template>
      </Ledger>
    </section>
  </Await>
</template>

<style scoped>
.padded {
  padding: 8px 16px;
}
.steps {
  display: flex;
  gap: 12px;
}
.file {
  display: inline-flex;
  align-items: center;
  height: 30px;
  padding: 0 12px;
  border: 1px solid var(--canvas-edge);
  border-radius: 3px;
  font-weight: 620;
  cursor: pointer;
}
.file:focus-within {
  outline: 2px solid var(--denim);
}
</style>
