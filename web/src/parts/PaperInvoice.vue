<script setup lang="ts">
import { local } from '@/book/english'
import type { Schema } from '@/api/client'
import { computed } from 'vue'
import { figure, less, longDay, shortDay } from './figures'

type Part = NonNullable<Schema['InvoiceView']['sections']>[number]

/** An invoice as the customer will see it; paper keeps its light colours in every theme. */
const props = defineProps<{ invoice: Schema['InvoiceView'] }>()
const title = computed(() => {
  if (props.invoice.creditOn) return 'Credit note'
  return props.invoice.isDeposit ? 'Deposit invoice' : 'Invoice'
})
/** Hours on it have their rate beside them. */
const rated = computed(() => (props.invoice.sections ?? []).some((s) => s.lines?.some((l) => l.rate)))
const span = computed(() => (rated.value ? 4 : 3))
/** The parts of it; the first of each job has its place, the last its sum, where the invoice is over several or says where it is. */
const parts = computed(() => {
  const { sections, places } = props.invoice
  const several = (places?.length ?? 0) > 1
  return (sections ?? []).map((part: Part, i) => {
    const place = places?.find((p) => p.job === part.job)
    const [first, last] = [sections![i - 1]?.job !== part.job, sections![i + 1]?.job !== part.job]
    return {
      part,
      begins: first && place && (several || place.site) ? place : undefined,
      ends: last && several ? place : undefined,
      title: (several || place?.site ? part.kind : '') || part.title,
    }
  })
})
/** "Nov 9 to Nov 22, 2026" */
const daysOf = (from: string, through: string) =>
  from === through ? longDay(from) : `${shortDay(from)} to ${longDay(through)}`
const saidOf = (p: NonNullable<Schema['InvoiceView']['places']>[number]) => {
  const order = p.orderNumber && p.orderNumber !== props.invoice.orderNumber ? `your order ${p.orderNumber}` : ''
  const days = (props.invoice.places?.length ?? 0) > 1 && p.from ? daysOf(p.from, p.through!) : ''
  return [p.site, order, days].filter(Boolean).join(' · ')
}
const prepaid = computed(() => (props.invoice.isDeposit ? [] : (props.invoice.deposits ?? []).filter((d) => d.here)))
</script>

<template>
  <article class="paper invoice" :aria-label="invoice.number ? `${title} ${invoice.number}` : 'Draft invoice'">
    <header :style="invoice.accent ? { color: invoice.accent } : undefined">
      <img v-if="invoice.companyLogo" :src="`/api/logos/${invoice.companyLogo}`" alt="" />
      <b>{{ invoice.companyName }}</b><small
        >{{ invoice.companyAddress }}<br v-if="invoice.companyAddress" />{{ invoice.companyEmail
        }}<template v-if="invoice.companyPhone"><br />{{ invoice.companyPhone }}</template
        ><template v-if="invoice.companyTaxNumber"><br />Tax number {{ invoice.companyTaxNumber }}</template
        ><template v-if="invoice.licence"><br />{{ local('Licence') }} {{ invoice.licence }}</template></small
      >
    </header>
    <div class="facts">
      <div>
        <span class="soft">To</span><br /><b>{{ invoice.customerName }}</b
        ><br /><span class="address">{{ invoice.customerAddress }}</span>
      </div>
      <dl>
        <dt>{{ title }}</dt>
        <dd>
          <b v-if="invoice.number">{{ invoice.number }}</b><span v-else><b>draft</b>, numbered at issue</span>
        </dd>
        <dt>Date</dt>
        <dd>{{ longDay(invoice.date) }}</dd>
        <template v-if="invoice.creditOn">
          <dt>On invoice</dt>
          <dd>{{ invoice.creditOn }}</dd>
        </template>
        <template v-else>
          <dt>Due</dt>
          <dd>{{ longDay(invoice.due) }}</dd>
          <template v-if="invoice.terms">
            <dt>Terms</dt>
            <dd>{{ invoice.terms }}</dd>
          </template>
        </template>
        <template v-if="invoice.orderNumber">
          <dt>Your order</dt>
          <dd>{{ invoice.orderNumber }}</dd>
        </template>
      </dl>
    </div>
    <h3>{{ invoice.title }}</h3>
    <p v-if="invoice.opening" class="typed above">{{ invoice.opening }}</p>
    <table>
      <colgroup>
        <col />
        <col style="width: 4.375rem" />
        <col style="width: 2.5rem" />
        <col v-if="rated" style="width: 4rem" />
        <col style="width: 5.625rem" />
      </colgroup>
      <thead>
        <tr>
          <th scope="col">What</th>
          <th scope="col" class="n">Quantity</th>
          <th></th>
          <th v-if="rated" scope="col" class="n">Rate</th>
          <th scope="col" class="n">Amount</th>
        </tr>
      </thead>
      <tbody v-for="{ part, begins, ends, title: called } in parts" :key="`${part.job} ${part.title}`">
        <tr v-if="begins" class="job">
          <th scope="rowgroup" :colspan="span + 1">
            {{ begins.job }} <small class="soft">{{ saidOf(begins) }}</small>
          </th>
        </tr>
        <tr class="part">
          <th scope="rowgroup" :colspan="span">{{ called }}</th>
          <td class="n">{{ figure(part.amount) }}</td>
        </tr>
        <tr v-for="(l, i) in part.lines" :key="i">
          <td>{{ l.text }}</td>
          <td class="n">{{ figure(l.quantity) }}</td>
          <td>&nbsp;{{ l.unit }}</td>
          <td v-if="rated" class="n">{{ figure(l.rate) }}</td>
          <td class="n">{{ figure(l.amount) }}</td>
        </tr>
        <tr v-if="ends" class="job-sum">
          <th scope="row" :colspan="span">{{ ends.job }}</th>
          <td class="n">{{ figure(ends.amount) }}</td>
        </tr>
      </tbody>
      <tbody class="totals">
        <tr v-if="!invoice.release">
          <td></td>
          <td :colspan="span - 1">Subtotal</td>
          <td class="n" data-total="subtotal">{{ figure(invoice.subtotal) }}</td>
        </tr>
        <tr v-for="t in invoice.taxes" :key="t.label">
          <td class="n" :colspan="span">{{ t.label }}</td>
          <td class="n">{{ figure(t.amount) }}</td>
        </tr>
        <tr v-if="(invoice.hasRetainage || prepaid.length) && !invoice.release">
          <td></td>
          <td :colspan="span - 1">Total</td>
          <td class="n" data-total="total">{{ figure(invoice.total) }}</td>
        </tr>
        <tr v-if="invoice.hasRetainage && !invoice.release">
          <td></td>
          <td :colspan="span - 1">{{ invoice.creditOn ? 'Retainage no longer held' : 'Retainage' }}</td>
          <td class="n">{{ figure(less(invoice.retainage)) }}</td>
        </tr>
        <tr v-for="d in prepaid" :key="d.id">
          <td class="n" :colspan="span">Prepaid by deposit {{ d.number }}</td>
          <td class="n">{{ figure(less(d.here!)) }}</td>
        </tr>
        <tr class="due">
          <td></td>
          <td :colspan="span - 1">{{ invoice.creditOn ? 'Credited' : 'Due now' }}, {{ invoice.currency }}</td>
          <td class="n" data-total="due">{{ figure(invoice.dueNow) }}</td>
        </tr>
      </tbody>
    </table>
    <dl v-for="s in invoice.stands" :key="s.job" class="stands">
      <dt class="of">{{ s.job }}</dt>
      <template v-if="s.contract">
        <dt>Contract</dt>
        <dd>{{ figure(s.contract) }}</dd>
        <dt>Billed to date</dt>
        <dd>{{ figure(s.billedToDate) }}</dd>
        <dt>Left</dt>
        <dd>{{ figure(s.left) }}</dd>
      </template>
      <template v-if="s.heldToDate">
        <dt>Retained to date</dt>
        <dd>{{ figure(s.heldToDate) }}</dd>
      </template>
    </dl>
    <template v-if="invoice.howToPay">
      <h4>How to pay</h4>
      <dl>
        <template v-for="f in invoice.howToPay" :key="f.what">
          <dt>{{ f.what }}</dt>
          <dd>{{ f.text }}</dd>
        </template>
      </dl>
    </template>
    <p v-if="invoice.closing" class="typed below">{{ invoice.closing }}</p>
    <p v-for="note in invoice.taxNotes" :key="note" class="tax-note">{{ note }}</p>
  </article>
</template>

<style scoped>
.invoice {
  flex: none;
  width: min(32.25rem, 100%);
  min-width: 24rem; /* narrower than that it is scrolled */
  min-height: 35rem;
  background: #fff;
  color: var(--ink);
  border: 1px solid var(--canvas-edge);
  padding: 26px 34px 30px;
  font-size: 0.6875rem;
  line-height: 0.9375rem;
}
header {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
}
header b {
  font-size: 1.0625rem;
  font-weight: 760;
  font-stretch: 112%;
  line-height: 1.1875rem;
}
header img {
  max-height: 3rem;
  max-width: 9rem;
}
header small {
  white-space: pre-line;
  margin-left: auto;
  text-align: right;
  font-size: 9.5px;
  line-height: 0.8125rem;
  color: var(--ink-soft);
}
.facts {
  display: grid;
  grid-template-columns: minmax(6.5rem, 1fr) minmax(0, 12.5rem);
  margin: 18px 0 14px;
}
.address {
  white-space: pre-line;
}
dl {
  display: grid;
  grid-template-columns: 4.375rem 1fr;
  row-gap: 1px;
}
dt {
  color: var(--ink-soft);
}
h3 {
  font-size: 1.125rem;
  line-height: 1.375rem;
  font-weight: 300;
  font-stretch: 108%;
  margin-bottom: 12px;
}
h4 {
  margin: 16px 0 2px;
  font-weight: 680;
}
table {
  border-collapse: collapse;
  width: 100%;
  table-layout: fixed;
}
td,
th {
  text-align: left;
  font-weight: 400;
  padding: 0;
  height: 1.1875rem;
  border-bottom: 1px solid var(--rule);
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
thead th {
  color: var(--ink-soft);
  border-bottom: 1px solid var(--ink);
}
.n {
  text-align: right;
}
tbody td:first-child {
  white-space: normal;
}
.part > * {
  font-weight: 680;
  border-bottom-color: var(--rule-strong);
  padding-top: 7px;
}
.job > th {
  font-weight: 680;
  padding-top: 10px;
  border-bottom-color: var(--ink);
}
.job small {
  font-weight: 400;
}
.job-sum > * {
  font-weight: 680;
}
.stands {
  grid-template-columns: 1fr auto;
  width: 12.5rem;
  margin: 12px 0 0 auto;
}
.stands .of {
  grid-column: 1 / -1;
  color: var(--ink);
}
.stands dd {
  text-align: right;
}
.typed {
  white-space: pre-line;
}
.above {
  margin-bottom: 10px;
}
.below {
  margin-top: 14px;
}
.tax-note {
  margin-top: 10px;
  white-space: pre-line;
}
.totals td {
  border: 0;
}
.totals tr:first-child td {
  border-top: 1px solid var(--ink);
  padding-top: 4px;
}
.due td:not(:first-child) {
  font-weight: 720;
  font-size: 0.84375rem;
  border-top: 1px solid var(--ink);
  border-bottom: 3px double var(--ink);
  height: 1.625rem;
}
</style>
