<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { answered, client, type Schema } from '@/api/client'
import { useFooting } from '@/book/footing'
import { useForm } from '@/book/form'
import { useScope } from '@/book/scope'
import Await from '@/parts/Await.vue'
import FormCard from '@/parts/FormCard.vue'
import FormField from '@/parts/FormField.vue'
import Ledger from '@/parts/Ledger.vue'
import { counted } from '@/parts/figures'
import type { Column } from '@/parts/ledger'
import CreditList from './CreditList.vue'
import PaymentForm from './PaymentForm.vue'

/** Payments and refunds, and what they are set against; one that was wrong is taken back by an entry of its own. Credit stands above. */
const scope = useScope()
const footing = useFooting()
const asked = useQuery({
  queryKey: ['bill', 'payments', scope.query],
  queryFn: () => answered(client.GET('/api/payments', { params: { query: scope.query.value } })),
})
type Row = Schema['PaymentRow']
/** The dates of the reports, where some are chosen. */
const dates = computed(() => {
  const { from, to } = scope.query.value
  return from && to ? `?from=${from}&through=${to}` : ''
})
const keyOf = (p: Row) => `${p.id}${p.back ? ' back' : ''}`
const opened = ref<Row>()
const recording = ref(false)
const back = useForm({
  blank: () => ({ reason: '', date: scope.today.value }),
  change: 'invoices',
  send: (body) =>
    answered(client.POST('/api/payments/{id}/take-back', { params: { path: { id: opened.value!.id } }, body })),
  done: () => (opened.value = undefined),
})
function open(p: Row) {
  opened.value = opened.value?.id === p.id ? undefined : p
  back.reset()
}
const kindOf = (p: Row) => (p.back ? `${p.kind} taken back` : p.kind)
watch(
  () => asked.data.value,
  (list) =>
    list &&
    footing.show('Payments', [
      { label: 'Received', value: list.received },
      { label: 'Refunded', value: list.refunded },
    ]),
  { immediate: true },
)
const columns: Column<Row>[] = [
  { id: 'date', label: 'Date', kind: 'date', width: 130, value: (p) => p.date },
  { id: 'customer', label: 'Customer', value: (p) => p.customer, tone: 'strong', sub: (p) => p.note },
  {
    id: 'kind',
    label: 'Entry',
    width: 150,
    value: kindOf,
    sub: (p) => (p.back ? (p.takenBack ?? '') : ''),
    tone: (p) => (p.back ? 'warnword' : ''),
    hideBelow: 1000,
  },
  { id: 'invoices', label: 'Set against', width: 150, value: (p) => p.invoices?.map((i) => i.number).join(', ') },
  { id: 'method', label: 'Method', width: 100, value: (p) => p.method, hideBelow: 1100 },
  { id: 'reference', label: 'Reference', width: 150, value: (p) => p.reference, tone: 'soft' },
  { id: 'amount', label: 'Amount', kind: 'money', width: 120, value: (p) => p.amount, rule: true, total: true },
  { id: 'acts', label: 'Change', width: 110, value: () => '', acts: true },
]
</script>

<template>
  <Await v-slot="{ data }" :of="asked" what="the payments">
    <section class="listing">
      <Teleport defer to="#bill-acts">
        <v-btn :href="`/api/reports/receipts${dates}`" download>Receipts by job</v-btn>
        <v-btn href="/api/reports/aging" download>Aging</v-btn>
        <v-btn href="/api/reports/aging-jobs" download>Aging by job</v-btn>
        <v-btn :href="`/api/reports/tax${dates}`" download>Tax</v-btn>
      </Teleport>
      <PaymentForm v-if="recording" :today="scope.today.value" @done="recording = false" @close="recording = false" />
      <CreditList v-if="data.credits?.length" :rows="data.credits" :today="scope.today.value" />
      <Ledger
        name="payments"
        label="Payments"
        of="entry"
        :columns="columns"
        :rows="data.payments ?? []"
        :row-key="keyOf"
        :row-name="(p) => `${kindOf(p)} of ${p.customer}`"
        :opened="opened && keyOf(opened)"
      >
        <template #tools
          ><h2 class="strong">Payments</h2>
          <v-btn class="small" :aria-expanded="recording" @click="recording = !recording"
            >Record payment</v-btn
          ></template
        >
        <template #invoices="{ row }"
          ><router-link
            v-for="i in row.invoices"
            :key="i.id"
            class="lnk"
            :to="`/bill?list=issued&span=all&open=${i.id}`"
            >{{ i.number }}</router-link
          ></template
        >
        <template #acts="{ row }"
          ><button
            v-if="!row.takenBack"
            class="lnk"
            :aria-label="`Take back the ${row.kind} of ${row.customer}`"
            @click="open(row)"
          >
            Take back</button
          ><span v-else-if="!row.back" class="soft">taken back</span></template
        >
        <template #below="{ row }">
          <FormCard
            :form="back"
            :label="`Take back the ${row.kind} of ${row.customer}`"
            :submit="`Take ${row.kind} back`"
            cancel="Cancel"
            @cancel="opened = undefined"
          >
            <FormField
              label="Reason"
              name="reason"
              size="wide"
              :list="['typed twice', 'bounced', 'another invoice']"
              focus
            />
            <FormField label="On" name="date" kind="date" />
            <template #after
              ><span class="soft">{{
                row.kind === 'refund'
                  ? 'It becomes the customer’s credit again.'
                  : 'Its invoices are owed again; where its credit was used, the newest invoices that were paid from it too.'
              }}</span></template
            >
          </FormCard>
        </template>
        <template #empty
          >No payment in this time. One is recorded here, or beside its invoice, under
          <router-link class="lnk" to="/bill?list=issued&span=all">Issued</router-link>.</template
        >
        <template #key
          ><p v-if="(data.count ?? 0) > (data.payments?.length ?? 0)" class="key">
            {{ counted(data.count ?? 0, 'entry') }}, the newest {{ data.payments?.length }} are listed.
          </p></template
        >
      </Ledger>
    </section>
  </Await>
</template>
