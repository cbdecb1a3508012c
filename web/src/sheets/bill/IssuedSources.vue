<script setup lang="ts">
import type { Schema } from '@/api/client'
import Ledger from '@/parts/Ledger.vue'
import { shortDay } from '@/parts/figures'
import type { Column } from '@/parts/ledger'
import { becomesNames } from './credit'

/** What an issued invoice bills, or what a credit note credits. */
defineProps<{ invoice: Schema['InvoiceView'] }>()
type Source = NonNullable<Schema['InvoiceView']['sources']>[number]
const sources: Column<Source>[] = [
  { id: 'date', label: 'Date', kind: 'date', width: 80, value: (s) => s.date, text: (s) => shortDay(s.date) },
  { id: 'what', label: 'Entry or cost line', value: (s) => s.text, sub: (s) => s.detail },
  { id: 'quantity', label: 'Quantity', width: 110, value: (s) => s.quantity },
  { id: 'amount', label: 'Amount', kind: 'money', width: 104, value: (s) => s.amount, rule: true, total: true },
]
const credits: Column<Schema['CreditRow']>[] = [
  { id: 'what', label: 'What is credited', value: (c) => c.text ?? '', sub: (c) => c.reason ?? '' },
  { id: 'becomes', label: 'What becomes of it', width: 140, value: (c) => (c.becomes ? becomesNames[c.becomes] : '') },
  { id: 'amount', label: 'Amount', kind: 'money', width: 104, value: (c) => c.amount, rule: true, total: true },
]
</script>

<template>
  <Ledger
    v-if="invoice.creditOn"
    name="credits"
    label="What it credits"
    of="line"
    :columns="credits"
    :rows="invoice.credits ?? []"
    :row-key="(c) => c.id"
  >
    <template #tools
      ><h2 class="strong one-line">Credited on {{ invoice.creditOn }}</h2></template
    >
  </Ledger>
  <Ledger
    v-else
    name="sources"
    label="What is on it"
    of="source"
    :columns="sources"
    :rows="invoice.sources ?? []"
    :row-key="(s) => `${s.kind}${s.id}`"
  >
    <template #tools><h2 class="strong one-line">On this invoice</h2></template>
  </Ledger>
</template>

<style scoped>
.one-line {
  white-space: nowrap;
}
</style>
