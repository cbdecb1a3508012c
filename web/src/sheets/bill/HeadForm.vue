<script setup lang="ts">
import type { Schema } from '@/api/client'
import { useForm, unkeyed } from '@/book/form'
import FormCard from '@/parts/FormCard.vue'
import FormField from '@/parts/FormField.vue'
import type { Head } from './draft'

/** The dates of a draft, the customer's order number, and the text above and below its lines. */
const props = defineProps<{ invoice: Schema['InvoiceView']; send: (head: Head) => Promise<Schema['InvoiceView']> }>()
const emit = defineEmits<{ done: [view: Schema['InvoiceView'], head: Head]; close: [] }>()
const form = useForm({
  blank: () => headOf(props.invoice),
  send: (body) => props.send(unkeyed(body)),
  change: 'invoices',
  done: (view, head) => emit('done', view, head),
})
</script>

<script lang="ts">
export const headOf = (v: Schema['InvoiceView']) => ({
  date: v.date,
  due: v.due,
  orderNumber: v.orderNumber ?? '',
  opening: v.opening ?? '',
  closing: v.closing ?? '',
})
</script>

<template>
  <FormCard :form="form" label="Dates and texts" submit="Save" cancel="Close" class="head-form" @cancel="emit('close')">
    <FormField label="Date" name="date" kind="date" />
    <FormField label="Due" name="due" kind="date" />
    <FormField label="Their order number" name="orderNumber" />
    <FormField label="Text above the lines" name="opening" kind="lines" size="wide" />
    <FormField label="Text below the lines" name="closing" kind="lines" size="wide" />
  </FormCard>
</template>
