<script setup lang="ts">
import { answered, client, type Schema } from '@/api/client'
import { useForm } from '@/book/form'
import FormCard from '@/parts/FormCard.vue'
import FormField from '@/parts/FormField.vue'

/** A payment for the invoice that is open: all of its balance, unless another amount is typed. */
const props = defineProps<{ invoice: Schema['InvoiceView']; today: string }>()
const form = useForm({
  blank: () => ({ amount: props.invoice.balance, date: props.today, method: '', reference: '' }),
  keep: ['date', 'method'],
  change: 'invoices',
  send: (body) => answered(client.POST('/api/payments', { body: { invoiceId: props.invoice.id, ...body } })),
})
</script>

<template>
  <FormCard :form="form" label="Record payment" submit="Record payment" class="payment">
    <FormField label="Amount" name="amount" kind="money" />
    <FormField label="Received on" name="date" kind="date" />
    <FormField label="Method" name="method" size="short" :list="['transfer', 'cheque', 'card', 'cash']" />
    <FormField label="Reference" name="reference" size="short" />
  </FormCard>
</template>

<style scoped>
.payment {
  align-self: stretch;
  background: none;
  padding: 12px 0;
}
</style>
