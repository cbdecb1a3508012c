<script setup lang="ts">
import { ref } from 'vue'
import { answered, client, type Schema } from '@/api/client'
import { useForm } from '@/book/form'
import FormCard from '@/parts/FormCard.vue'
import FormField from '@/parts/FormField.vue'
import Ledger from '@/parts/Ledger.vue'
import { counted, shortDay } from '@/parts/figures'
import type { Column } from '@/parts/ledger'
import { paymentMethods } from './parts'

/** Customers who paid, or were credited, more than is set against their invoices, and its refund. */
const props = defineProps<{ rows: Schema['CustomerCredit'][]; today: string }>()
type Row = Schema['CustomerCredit']
const opened = ref<Row>()
const form = useForm({
  blank: () => ({ amount: opened.value?.credit ?? '', date: props.today, method: '', reference: '' }),
  change: 'invoices',
  send: (body) => answered(client.POST('/api/refunds', { body: { ...body, customerId: opened.value!.id } })),
  done: () => (opened.value = undefined),
})
function open(r: Row) {
  opened.value = opened.value?.id === r.id ? undefined : r
  form.reset()
}
const columns: Column<Row>[] = [
  { id: 'customer', label: 'Credit', value: (r) => r.customer, tone: 'strong' },
  {
    id: 'open',
    label: 'Can be set against',
    width: 220,
    value: (r) => (r.open ? counted(r.open, 'open invoice') : 'no open invoice'),
    tone: 'soft',
  },
  { id: 'last', label: 'Changed', width: 110, value: (r) => shortDay(r.last), tone: 'soft' },
  { id: 'credit', label: 'Credit', kind: 'money', width: 120, value: (r) => r.credit, total: true, rule: true },
  { id: 'acts', label: 'Next step', width: 110, value: () => '', acts: true },
]
</script>

<template>
  <Ledger
    name="credit"
    label="Credit of customers"
    of="customer"
    :columns="columns"
    :rows="rows"
    :row-key="(r) => r.id"
    :row-name="(r) => r.customer"
    :opened="opened?.id"
    opens
    flat
    @open="open"
  >
    <template #tools
      ><h2 class="strong">Credit</h2>
      <span class="soft">paid or credited, and not set against an invoice</span></template
    >
    <template #acts="{ row }"
      ><button class="lnk" :aria-label="`Refund ${row.customer}`" @click.stop="open(row)">Refund</button></template
    >
    <template #below="{ row }">
      <FormCard
        :form="form"
        :label="`Refund ${row.customer}`"
        submit="Record refund"
        cancel="Cancel"
        @cancel="opened = undefined"
      >
        <FormField label="Amount" name="amount" kind="money" focus />
        <FormField label="Paid on" name="date" kind="date" />
        <FormField label="Method" name="method" size="short" :list="paymentMethods()" />
        <FormField label="Reference" name="reference" size="short" />
        <template #after><span class="soft">Credit is set against an invoice beside that invoice.</span></template>
      </FormCard>
    </template>
  </Ledger>
</template>
