<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch, watchEffect } from 'vue'
import { answered, client, retryKey, Refusal, type Schema } from '@/api/client'
import Amount from '@/parts/Amount.vue'
import PaperInvoice from '@/parts/PaperInvoice.vue'
import Trail from '@/parts/Trail.vue'
import Workings from '@/parts/Workings.vue'
import { counted, figure, shortDay } from '@/parts/figures'
import { useWorkings } from '@/parts/workings'
import { useFooting } from '@/book/footing'
import { useScope } from '@/book/scope'
import TakePayment from './TakePayment.vue'

/** Drafts or issued invoices at the left, the one that is open as a paper page at the right. */
const props = defineProps<{ rows: Schema['DraftRow'][]; totals: Schema['BillTotals']; drafts: boolean }>()
const scope = useScope()
const footing = useFooting()
const queries = useQueryClient()
const said = ref('')
const busy = ref(false)
const sure = ref(false)
const showWorkings = useWorkings(() => true)
const open = computed(() => Number(scope.text('open')) || props.rows[0]?.id)
const { data: invoice, error } = useQuery({
  queryKey: ['invoice', open],
  queryFn: () => answered(client.GET('/api/invoices/{id}', { params: { path: { id: open.value! } } })),
  enabled: () => !!open.value,
})
watch(open, () => {
  said.value = ''
  sure.value = false
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
watchEffect(() => {
  const v = invoice.value
  if (!v)
    return footing.show(props.drafts ? 'Drafts' : 'Issued', [
      { label: 'Together', value: props.drafts ? props.totals.drafts : props.totals.issued },
    ])
  footing.show(v.number ? `Invoice ${v.number}` : 'This draft', [
    { label: 'Hours', value: v.hours },
    { label: 'Cost', value: v.cost },
    { label: 'Charge', value: v.subtotal },
    { label: 'Tax', value: v.tax },
    { label: 'Due now', value: v.dueNow },
    { label: 'Left to pay', value: v.balance },
  ])
})

async function act<T>(call: () => Promise<T>): Promise<T | undefined> {
  busy.value = true
  said.value = ''
  try {
    const answer = await call()
    footing.saved()
    return answer
  } catch (refused) {
    said.value = (refused as Error).message
    if (refused instanceof Refusal && refused.status === 409) await queries.invalidateQueries({ queryKey: ['invoice'] })
    return undefined
  } finally {
    busy.value = false
  }
}
const at = () => ({ params: { path: { id: invoice.value!.id } }, body: { version: invoice.value!.version } })
async function regroup(grouping: Schema['Regrouping']['grouping']) {
  const v = await act(() =>
    answered(client.PUT('/api/invoices/{id}/grouping', { params: at().params, body: { ...at().body, grouping } })),
  )
  if (!v) return
  queries.setQueryData(['invoice', open.value], v)
  await queries.invalidateQueries({ queryKey: ['workings'] })
}
async function issue() {
  const v = await act(() => answered(client.POST('/api/invoices/{id}/issue', at())))
  if (!v) return
  sure.value = false
  const outside = (scope.from.value && v.date < scope.from.value) || (scope.to.value && v.date > scope.to.value)
  await scope.change({ list: 'issued', open: String(v.id), ...(outside ? { span: 'all' } : {}) })
  await queries.invalidateQueries()
}
async function drop() {
  if (!(await act(() => answered(client.POST('/api/invoices/{id}/drop', at()))))) return
  await scope.change({ open: '' })
  await queries.invalidateQueries()
}
/** Where no answer comes the payment may have been taken: sent once more it is the same one. */
const paying = retryKey()
async function pay(amount: string, date: string) {
  const payment = { invoiceId: invoice.value!.id, amount, date }
  const body = { ...payment, key: paying.for(payment) }
  if (!(await act(() => answered(client.POST('/api/payments', { body }))))) return
  paying.done()
  await queries.invalidateQueries()
}
</script>

<template>
  <div class="split bill" :class="{ three: showWorkings }">
    <section>
      <Teleport to="#bill-acts">
        <span v-if="said" class="said" role="alert">{{ said }}</span>
        <template v-if="invoice">
          <v-btn :aria-pressed="showWorkings" @click="showWorkings = !showWorkings">Workings</v-btn>
          <v-btn :href="`/api/invoices/${invoice.id}/pdf`" target="_blank">PDF</v-btn>
          <v-btn :href="`/api/invoices/${invoice.id}/pdf?backup=yes`" target="_blank">PDF with backup</v-btn>
          <v-btn :href="`/api/invoices/${invoice.id}/csv`" download>CSV</v-btn>
          <template v-if="invoice.status === 'draft'">
            <v-btn :loading="busy" @click="drop">Drop the draft</v-btn>
            <template v-if="sure">
              <span class="warnword"
                >An issued invoice never changes.{{
                  invoice.unprintable?.length
                    ? ` ${counted(invoice.unprintable.length, 'text')} can't be printed as typed.`
                    : ''
                }}</span
              >
              <v-btn class="go" :loading="busy" @click="issue">Issue it</v-btn>
              <v-btn @click="sure = false">Not yet</v-btn>
            </template>
            <v-btn v-else class="go" @click="sure = true">Issue</v-btn>
          </template>
        </template>
      </Teleport>
      <div v-if="!rows.length" class="empty">
        <h2>{{ drafts ? 'No drafts' : `No invoices issued, ${scope.short.value}` }}</h2>
        <p class="soft">
          {{
            drafts
              ? 'Choose jobs under ready and make drafts of them.'
              : 'An invoice comes here when its draft is issued, under the date of the invoice.'
          }}
        </p>
        <v-btn v-if="!drafts && scope.span.value !== 'all'" @click="scope.change({ span: 'all', from: '' })"
          >Show all dates</v-btn
        >
      </div>
      <div v-else class="scroll">
        <table class="ledger" :aria-label="drafts ? 'Drafts' : 'Issued invoices'">
          <colgroup>
            <col style="width: 74px" />
            <col />
            <col style="width: 92px" />
            <col style="width: 96px" />
            <col style="width: 96px" />
            <col style="width: 48px" />
          </colgroup>
          <thead>
            <tr>
              <th scope="col">No.</th>
              <th scope="col">Customer, work</th>
              <th scope="col">Due</th>
              <th scope="col" class="num money">Amount</th>
              <th scope="col" class="num">Left</th>
              <th scope="col" class="mk">Trail</th>
            </tr>
          </thead>
          <tbody>
            <tr
              v-for="r in rows"
              :key="r.id"
              tabindex="0"
              :class="{ open: r.id === open }"
              @click="scope.change({ open: String(r.id) })"
              @keydown.enter="scope.change({ open: String(r.id) })"
            >
              <td>{{ r.number || 'draft' }}</td>
              <td>
                <span class="two"
                  ><span class="strong">{{ r.customer }}</span
                  ><small>{{ r.title }}</small></span
                >
              </td>
              <td>
                <span class="two"
                  ><span>{{ shortDay(r.due) }}</span
                  ><small v-if="r.daysLate" class="warnword">{{ r.daysLate }} days late</small></span
                >
              </td>
              <td class="num money"><Amount :of="r.dueNow" /></td>
              <td class="num"><Amount :of="r.balance" /></td>
              <td class="mk"><Trail :trail="r.trail" kind="invoice" :ids="[r.id]" /></td>
            </tr>
          </tbody>
          <tfoot>
            <tr>
              <td></td>
              <th scope="row">
                {{ rows.length }} {{ (drafts ? 'draft' : 'invoice') + (rows.length === 1 ? '' : 's') }}
              </th>
              <td></td>
              <td class="num money"><Amount :of="drafts ? totals.drafts : totals.issued" /></td>
              <td class="num"><Amount :of="drafts ? totals.drafts : totals.balance" /></td>
              <td></td>
            </tr>
          </tfoot>
        </table>
        <template v-if="invoice">
          <TakePayment
            v-if="invoice.status === 'issued' && invoice.balance !== '0.00' && Number(invoice.balance) > 0"
            :key="invoice.id"
            :balance="invoice.balance"
            :today="scope.today.value"
            :busy="busy"
            @take="pay"
          />
          <div class="title-row">
            <h2>What is on it</h2>
            <span class="soft">{{ invoice.sources?.length }} entries and lines</span>
          </div>
          <table class="ledger" aria-label="What is on it">
            <colgroup>
              <col style="width: 92px" />
              <col />
              <col style="width: 92px" />
              <col style="width: 104px" />
            </colgroup>
            <tbody>
              <tr v-for="s in invoice.sources" :key="s.kind + s.id">
                <td>{{ shortDay(s.date) }}</td>
                <td>
                  <span class="two"
                    ><span>{{ s.text }}</span
                    ><small>{{ s.detail }}</small></span
                  >
                </td>
                <td class="num">{{ s.quantity }}</td>
                <td class="num money">{{ figure(s.amount) }}</td>
              </tr>
            </tbody>
          </table>
        </template>
      </div>
      <div class="ruled"></div>
    </section>
    <section v-if="rows.length" class="desktop">
      <p v-if="error && !invoice" class="said empty" role="alert">{{ error.message }}</p>
      <template v-else-if="invoice">
        <div v-if="invoice.status === 'draft'" class="words bar">
          <span>Labour by</span>
          <button
            v-for="[value, text] in groupings"
            :key="value"
            :aria-pressed="invoice.grouping === value"
            @click="regroup(value)"
          >
            {{ text }}
          </button>
        </div>
        <div v-else class="bar soft">Issued, and it never changes.</div>
        <p v-if="invoice.unprintable?.length" class="said unprinted" role="status">
          The paper can't print some characters of these and has a ? for each: {{ invoice.unprintable.join('; ') }}
        </p>
        <PaperInvoice :invoice="invoice" />
      </template>
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
  grid-template-columns: minmax(0, 1fr) minmax(0, 580px);
}
.three {
  grid-template-columns: minmax(0, 1fr) 400px;
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
  min-height: 44px;
  padding: 12px 0;
  flex-wrap: wrap;
  gap: 4px 14px;
}
</style>
