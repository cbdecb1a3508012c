<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { ref, watch } from 'vue'
import { answered, client, type Schema } from '@/api/client'
import { useFooting } from '@/book/footing'
import { unkeyed, useForm } from '@/book/form'
import { useScope } from '@/book/scope'
import Amount from '@/parts/Amount.vue'
import Await from '@/parts/Await.vue'
import FormCard from '@/parts/FormCard.vue'
import FormField from '@/parts/FormField.vue'
import Ledger from '@/parts/Ledger.vue'
import { counted } from '@/parts/figures'
import type { Column } from '@/parts/ledger'

/** Payments received, and what they were set against; one that was wrong is taken back with a reason, and stays in the list. */
const scope = useScope()
const footing = useFooting()
const asked = useQuery({
  queryKey: ['bill', 'payments', scope.query],
  queryFn: () => answered(client.GET('/api/payments', { params: { query: scope.query.value } })),
})
type Row = Schema['PaymentRow']
const opened = ref<number>()
const back = useForm({
  blank: () => ({ reason: '' }),
  change: 'invoices',
  send: (body) =>
    answered(
      client.POST('/api/payments/{id}/take-back', { params: { path: { id: opened.value! } }, body: unkeyed(body) }),
    ),
  done: () => (opened.value = undefined),
})
function open(p: Row) {
  opened.value = opened.value === p.id ? undefined : p.id
  back.reset()
}
watch(
  () => asked.data.value,
  (list) =>
    list &&
    footing.show('Payments', [
      { label: 'Payments', value: String(list.count) },
      { label: 'Received', value: list.total },
    ]),
  { immediate: true },
)
const columns: Column<Row>[] = [
  { id: 'date', label: 'Received', kind: 'date', width: 130, value: (p) => p.date },
  { id: 'customer', label: 'Customer', value: (p) => p.customer, tone: 'strong' },
  { id: 'invoices', label: 'Invoice', width: 130, value: (p) => p.invoices?.map((i) => i.number).join(', ') },
  { id: 'method', label: 'Method', width: 110, value: (p) => p.method },
  { id: 'reference', label: 'Reference', width: 150, value: (p) => p.reference, tone: 'soft' },
  { id: 'state', label: 'Taken back', width: 190, value: (p) => p.takenBack, tone: () => 'warnword', hideBelow: 1000 },
  { id: 'amount', label: 'Amount', kind: 'money', width: 120, value: (p) => p.amount, rule: true },
  { id: 'acts', label: 'Change', width: 110, value: () => '', acts: true },
]
</script>

<template>
  <Await v-slot="{ data }" :of="asked" what="the payments">
    <section class="listing">
      <Ledger
        name="payments"
        label="Payments"
        of="payment"
        :columns="columns"
        :rows="data.payments ?? []"
        :row-key="(p) => p.id"
        :opened="opened"
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
        <template #amount="{ row }"
          ><s v-if="row.takenBack"><Amount :of="row.amount" /></s><Amount v-else :of="row.amount"
        /></template>
        <template #acts="{ row }"
          ><button v-if="!row.takenBack" class="lnk" @click="open(row)">Take back</button></template
        >
        <template #below="{ row }">
          <FormCard
            :form="back"
            :label="`Take back the payment of ${row.customer}`"
            submit="Take payment back"
            cancel="Cancel"
            @cancel="opened = undefined"
          >
            <FormField label="Reason" name="reason" size="wide" :list="['typed twice', 'bounced', 'another invoice']" />
            <template #after><span class="soft">Its invoice is owed again.</span></template>
          </FormCard>
        </template>
        <template #empty
          >No payment in this time. One is recorded beside its invoice, under
          <router-link class="lnk" to="/bill?list=issued&span=all">Issued</router-link>.</template
        >
        <template #key
          ><p v-if="(data.count ?? 0) > (data.payments?.length ?? 0)" class="key">
            {{ counted(data.count ?? 0, 'payment') }}, the newest {{ data.payments?.length }} are listed.
          </p></template
        >
      </Ledger>
    </section>
  </Await>
</template>
