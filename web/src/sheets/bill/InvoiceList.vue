<script setup lang="ts">
import { local } from '@/book/english'
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch, watchEffect } from 'vue'
import { answered, client, type Schema } from '@/api/client'
import { useAct } from '@/book/act'
import { useFooting } from '@/book/footing'
import { useScope } from '@/book/scope'
import Await from '@/parts/Await.vue'
import Ledger from '@/parts/Ledger.vue'
import PaperInvoice from '@/parts/PaperInvoice.vue'
import SureButton from '@/parts/SureButton.vue'
import Trail from '@/parts/Trail.vue'
import Workings from '@/parts/Workings.vue'
import { counted, figure, shortDay } from '@/parts/figures'
import type { Column } from '@/parts/ledger'
import { useWorkings } from '@/parts/workings'
import CreditNote from './CreditNote.vue'
import DraftSources from './DraftSources.vue'
import IssuedSources from './IssuedSources.vue'
import MessageForm from '@/parts/MessageForm.vue'
import SentMessages from '@/parts/SentMessages.vue'
import RecordPayment from './RecordPayment.vue'
import SaveAs from './SaveAs.vue'
import TypedForm from './TypedForm.vue'
import type { Typed } from './parts'

/** Drafts or issued invoices at the left, the one that is open as a paper page at the right. */
const props = defineProps<{ rows: Schema['DraftRow'][]; totals: Schema['BillTotals']; drafts: boolean }>()
const scope = useScope()
const footing = useFooting()
const queries = useQueryClient()
const { busy, said, act, clear } = useAct('invoices')
const showWorkings = useWorkings(() => true)
const open = computed(() => Number(scope.text('open')) || props.rows[0]?.id)
const asked = useQuery({
  queryKey: ['invoice', open],
  queryFn: () => answered(client.GET('/api/invoices/{id}', { params: { path: { id: open.value! } } })),
  enabled: () => !!open.value,
})
const invoice = asked.data
/** A draft can begin with a line that is typed, or ask for a deposit. */
const beginning = ref<Typed>()
const line = (): Typed => ({ kind: 'line', job: scope.job.value, category: 'other', text: '' })
const deposit = (): Typed => ({ kind: 'deposit', job: scope.job.value, text: 'Deposit' })
const begin = (typed: Typed) => (beginning.value = beginning.value?.kind === typed.kind ? undefined : typed)
const start = (line: Typed, key: string) =>
  answered(client.POST('/api/bill/draft', { body: { key, date: scope.today.value, lines: [line] } }))
async function began(view: Schema['InvoiceView']) {
  beginning.value = undefined
  await show(view.id)
}
/** A credit note on the invoice that is open is in hand. */
const crediting = ref(false)
async function noted(note: Schema['InvoiceView']) {
  crediting.value = false
  queries.setQueryData(['invoice', note.id], note)
  await scope.change({ span: 'all', open: String(note.id) })
}
/** A message with the invoice that is open is in hand. */
const sending = ref(false)
watch(open, () => {
  crediting.value = sending.value = false
  clear()
})
const groupings = [
  ['trade', 'trade'],
  ['worker', 'worker'],
  ['day', 'day'],
  ['phase', 'phase'],
  ['cost_code', 'cost code'],
  ['entry', 'entry'],
  ['category', 'kind'],
  ['one', 'one line'],
] as const
/** Hours have a rate where they are not all in one line. */
const hasRates = (grouping: string) => grouping !== 'category' && grouping !== 'one'
watchEffect(() => {
  const v = invoice.value
  if (!v)
    return footing.show(props.drafts ? 'Drafts' : 'Issued', [
      { label: 'Total', value: props.drafts ? props.totals.drafts : props.totals.issued },
    ])
  footing.show(v.number ? `Invoice ${v.number}` : 'This draft', [
    { label: 'Hours', value: v.hours },
    { label: 'Cost', value: v.cost },
    { label: 'Charge', value: v.subtotal },
    { label: 'Tax', value: v.tax },
    { label: 'Due now', value: v.dueNow },
    { label: 'Balance', value: v.balance },
  ])
})

const show = (id: number | string) => scope.change({ open: String(id) })
const at = () => ({ params: { path: { id: invoice.value!.id } }, body: { version: invoice.value!.version } })
type Detail = Pick<Schema['Regrouping'], 'grouping' | 'showRates'>
/** How much detail the customer sees. */
async function regroup(changed: Partial<Detail>) {
  const { grouping, showRates } = invoice.value!
  const detail = { grouping: grouping as Detail['grouping'], showRates, ...changed }
  const v = await act(() =>
    answered(client.PUT('/api/invoices/{id}/grouping', { params: at().params, body: { ...at().body, ...detail } })),
  )
  if (v) queries.setQueryData(['invoice', open.value], v)
}
/** What was issued last, said where one goes on with the next draft. */
const issued = ref<Schema['DraftRow'][]>([])
const last = computed(() => issued.value.at(-1))
/** Many drafts can be issued in one go. */
const chosen = ref<(string | number)[]>([])
const drafted = computed(() => props.rows.filter((r) => chosen.value.includes(r.id)))
/** Issues drafts one after the other, each on the version that was seen; where one is refused the others stay drafts. */
async function issueAll(rows: Schema['DraftRow'][]) {
  const left = props.rows.filter((r) => !rows.includes(r))
  issued.value = []
  for (const r of rows) {
    const version = r.id === invoice.value?.id ? invoice.value.version : r.version
    const v = await act(() =>
      answered(client.POST('/api/invoices/{id}/issue', { params: { path: { id: r.id } }, body: { version } })),
    )
    if (!v) return undefined
    issued.value = [...issued.value, { ...r, number: v.number }]
    chosen.value = chosen.value.filter((id) => id !== r.id)
  }
  const next = left[0]
  return next ? show(next.id) : scope.change({ list: 'issued', span: 'all', open: String(rows.at(-1)!.id) })
}
/** Drafts of one customer can become one. */
const joins = computed(() => drafted.value.length > 1 && new Set(drafted.value.map((r) => r.customer)).size === 1)
async function join() {
  const [first, ...others] = drafted.value
  const v = await act(() =>
    answered(
      client.POST('/api/invoices/{id}/join', {
        params: { path: { id: first!.id } },
        body: { version: first!.version, drafts: others.map(({ id, version }) => ({ id, version })) },
      }),
    ),
  )
  if (!v) return
  chosen.value = []
  queries.setQueryData(['invoice', v.id], v)
  await show(v.id)
}
async function drop() {
  if (await act(() => answered(client.POST('/api/invoices/{id}/drop', at())))) await scope.change({ open: '' })
}
const balance = (r: Schema['DraftRow']) => (props.drafts ? r.dueNow : r.balance)
const columns = computed<Column<Schema['DraftRow']>[]>(() => [
  { id: 'number', label: 'Invoice no.', width: 96, value: (r) => r.number || 'draft' },
  {
    id: 'customer',
    label: 'Customer',
    value: (r) => r.customer,
    sub: (r) => (r.creditOn ? `credit note on ${r.creditOn}` : r.title),
  },
  {
    id: 'due',
    label: 'Due',
    kind: 'date',
    width: 96,
    value: (r) => r.due,
    text: (r) => shortDay(r.due),
    sub: (r) => (r.daysLate ? `${counted(r.daysLate, 'day')} late` : ''),
    hideBelow: 1100,
  },
  {
    id: 'amount',
    label: 'Amount',
    kind: 'money',
    width: 96,
    value: (r) => r.dueNow,
    rule: true,
    total: true,
    hideBelow: 1181,
  },
  { id: 'balance', label: 'Balance', kind: 'money', width: 96, value: balance, total: true },
  { id: 'trail', label: 'Trail', width: 56, value: (r) => r.trail.text, text: () => '', hideBelow: 1100 },
])
</script>

<template>
  <CreditNote
    v-if="crediting && invoice"
    :key="invoice.id"
    :invoice="invoice"
    :today="scope.today.value"
    @done="noted"
    @close="crediting = false"
  />
  <div v-else class="split bill" :class="{ three: showWorkings }">
    <section>
      <Teleport to="#bill-acts">
        <span class="said" role="alert">{{ said }}</span>
        <template v-if="invoice">
          <v-btn :aria-pressed="showWorkings" @click="showWorkings = !showWorkings">Workings</v-btn>
          <v-btn :href="`/api/invoices/${invoice.id}/pdf`" target="_blank">PDF</v-btn>
          <SaveAs :invoice="invoice" @refused="said = $event" />
          <v-btn v-if="invoice.status === 'issued' && !invoice.creditOn" @click="crediting = true">Credit note</v-btn>
          <v-btn v-if="invoice.status === 'issued'" class="go" :aria-expanded="sending" @click="sending = !sending"
            >Send</v-btn
          >
          <template v-if="invoice.status === 'draft'">
            <SureButton label="Drop draft" sure="Its work is ready to bill again." :disabled="busy" @sure="drop" />
            <SureButton
              v-if="drafted.length > 1"
              :label="`Issue ${drafted.length} invoices`"
              sure="Issued invoices never change."
              go
              :busy="busy"
              @sure="issueAll(drafted)"
            />
            <SureButton
              v-else
              label="Issue invoice"
              :sure="`An issued invoice never changes.${
                invoice.datedBefore ? ` It is dated before ${invoice.datedBefore}, the last one issued.` : ''
              }${
                invoice.unprintable?.length
                  ? ` ${counted(invoice.unprintable.length, 'text')} can't be printed as typed.`
                  : ''
              }`"
              go
              :busy="busy"
              @sure="issueAll(rows.filter((r) => r.id === invoice!.id))"
            />
          </template>
        </template>
      </Teleport>
      <TypedForm
        v-if="drafts && beginning"
        :key="beginning.kind"
        :typed="beginning"
        submit="Make draft"
        :send="start"
        @done="began"
        @close="beginning = undefined"
      />
      <p v-if="drafts && last" class="told-of" role="status">
        {{ issued.length > 1 ? `${issued.length} invoices issued, the last is` : 'Issued:' }}
        <button class="lnk" @click="scope.change({ list: 'issued', span: 'all', open: String(last.id) })">
          {{ last.number }} {{ last.customer }}
        </button>
      </p>
      <div v-if="!rows.length" class="empty">
        <h2>{{ drafts ? 'No drafts' : `No invoices issued, ${scope.short.value}` }}</h2>
        <p class="soft">
          {{
            drafts
              ? 'Choose jobs under Ready and make drafts of them.'
              : 'An invoice comes here when its draft is issued, under the date of the invoice.'
          }}
        </p>
        <v-btn v-if="drafts" @click="begin(line())">New draft</v-btn>
        <v-btn v-if="drafts" @click="begin(deposit())">Ask for a deposit</v-btn>
        <v-btn v-if="!drafts && scope.span.value !== 'all'" @click="scope.change({ span: 'all', from: '' })"
          >Show all dates</v-btn
        >
      </div>
      <Ledger
        v-else
        v-model:chosen="chosen"
        :name="drafts ? 'drafts' : 'issued'"
        :label="drafts ? 'Drafts' : 'Issued invoices'"
        :of="drafts ? 'draft' : 'invoice'"
        :columns="columns"
        :rows="rows"
        :row-key="(r) => r.id"
        :row-name="(r) => `${r.number || 'draft'} ${r.customer}`"
        :opened="open"
        :chooses="drafts"
        opens
        :class="drafts ? 'drafts' : 'list'"
        @open="(r) => show(r.id)"
      >
        <template v-if="drafts" #tools
          ><v-btn class="small" :aria-expanded="beginning?.kind === 'line'" @click="begin(line())">New draft</v-btn
          ><v-btn class="small" :aria-expanded="beginning?.kind === 'deposit'" @click="begin(deposit())"
            >Ask for a deposit</v-btn
          ><SureButton
            v-if="joins"
            :label="`Join ${drafted.length}`"
            sure="They become one draft."
            small
            :busy="busy"
            @sure="join"
        /></template>
        <template #customer="{ row }"
          ><span class="two"
            ><span class="strong">{{ row.customer }}</span
            ><small>{{ row.creditOn ? `credit note on ${row.creditOn}` : row.title }}</small></span
          ></template
        >
        <template #due="{ row }"
          ><span class="two"
            ><span>{{ shortDay(row.due) }}</span
            ><small v-if="row.daysLate" class="warnword">{{ counted(row.daysLate, 'day') }} late</small></span
          ></template
        >
        <template #trail="{ row }"><Trail :trail="row.trail" kind="invoice" :ids="[row.id]" /></template>
      </Ledger>
      <DraftSources
        v-if="invoice?.status === 'draft' && !invoice.release"
        :invoice="invoice"
        :others="rows.filter((r) => r.id !== invoice!.id && r.customer === invoice!.customerName)"
        class="work"
      />
      <IssuedSources v-else-if="invoice && !invoice.release" :invoice="invoice" class="list" />
    </section>
    <section v-if="rows.length" class="desktop">
      <Await v-slot="{ data }" :of="asked" what="the invoice">
        <MessageForm v-if="sending" :invoice="data.id" @done="sending = false" @close="sending = false" />
        <RecordPayment
          v-if="data.status === 'issued' && !data.creditOn"
          :key="data.id"
          :invoice="data"
          :today="scope.today.value"
        />
        <SentMessages v-if="data.status === 'issued' && !sending" :invoice="data.id" />
        <div v-if="data.status === 'draft' && !data.isDeposit && !data.release" class="words bar">
          <span>{{ local('Labour') }} by</span>
          <button
            v-for="[value, text] in groupings"
            :key="value"
            :aria-pressed="data.grouping === value"
            @click="regroup({ grouping: value })"
          >
            {{ text }}
          </button>
          <button
            :aria-pressed="data.showRates && hasRates(data.grouping)"
            :disabled="!hasRates(data.grouping)"
            @click="regroup({ showRates: !data.showRates })"
          >
            with rates
          </button>
        </div>
        <div v-else class="bar soft">
          <span v-if="data.status === 'issued'">Issued: it can no longer be changed.</span>
          <button v-for="n in data.notes" :key="n.id" class="lnk" @click="show(n.id)">
            {{ figure(n.amount) }} credited by {{ n.number }}
          </button>
        </div>
        <p v-if="data.unprintable?.length" class="said unprinted" role="status">
          The paper can't print some characters of these and has a ? for each: {{ data.unprintable.join('; ') }}
        </p>
        <PaperInvoice :invoice="data" />
      </Await>
    </section>
    <Workings
      v-if="showWorkings && rows.length"
      :of="open ? { kind: 'invoice', id: open } : undefined"
      ask="Open an invoice to see how what is due came about."
      @close="showWorkings = false"
    />
  </div>
</template>

<style scoped>
.bill {
  grid-template-columns: minmax(0, 1fr) minmax(0, 36.25rem);
}
.three {
  grid-template-columns: minmax(0, 1fr) 25rem;
}
.three > section {
  border-left: 0;
}
.three > section:first-child {
  display: none; /* what is on it stands in the Workings too */
}
.desktop {
  background: var(--canvas);
  padding: 0 22px 22px;
  align-items: center;
}
.unprinted {
  align-self: stretch;
  padding-bottom: 10px;
}
.bar {
  align-self: stretch;
  flex: none;
  min-height: 2.75rem;
  padding: 12px 0;
  flex-wrap: wrap;
  gap: 4px 14px;
}
.list {
  flex: 1 1 50%;
  min-height: 11.25rem;
}
/* The work on the draft in hand has most of the room; of the drafts a few are in sight. */
.drafts {
  flex: 1 1 30%;
  min-height: 9.5rem;
}
.work {
  flex: 3 1 70%;
  min-height: 14rem;
  border-top: 3px double var(--rule-strong);
}
@media (max-width: 1180px) {
  .bill:not(.three) {
    grid-template-columns: minmax(0, 1fr) minmax(0, 32.5rem);
  }
}
.told-of {
  padding: 8px 16px;
  color: var(--denim);
  font-weight: 560;
}
</style>
