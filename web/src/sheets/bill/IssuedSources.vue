<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { answered, client, type Schema } from '@/api/client'
import { useForm } from '@/book/form'
import FormCard from '@/parts/FormCard.vue'
import FormField from '@/parts/FormField.vue'
import Ledger from '@/parts/Ledger.vue'
import { figure, shortDay } from '@/parts/figures'
import type { Column } from '@/parts/ledger'
import { becomesNames } from './credit'

/** What an issued invoice bills, or what a credit note credits. */
const props = defineProps<{ invoice: Schema['InvoiceView'] }>()
type Source = NonNullable<Schema['InvoiceView']['sources']>[number]
const queries = useQueryClient()
/** What of it was written down, and can be taken back. */
const opened = ref(0)
watch(
  () => props.invoice.id,
  () => (opened.value = 0),
)
const form = useForm({
  blank: () => ({ amount: '', note: '' }),
  change: 'everything',
  send: (body) =>
    answered(client.POST('/api/write-downs/{id}/take-back', { params: { path: { id: opened.value } }, body })),
  done: (view) => {
    queries.setQueryData(['invoice', view.id], view)
    opened.value = 0
  },
})
const written = computed(() => props.invoice.sources?.some((s) => s.down))
const sources = computed<Column<Source>[]>(() => [
  { id: 'date', label: 'Date', kind: 'date', width: 80, value: (s) => s.date, text: (s) => shortDay(s.date) },
  {
    id: 'what',
    label: 'Entry or cost line',
    value: (s) => s.text,
    sub: (s) => (s.down && s.reason ? `written down: ${s.reason}` : s.detail),
  },
  { id: 'quantity', label: 'Quantity', width: 110, value: (s) => s.quantity },
  { id: 'amount', label: 'Amount', kind: 'money', width: 104, value: (s) => s.amount, rule: true, total: true },
  ...(written.value
    ? [
        { id: 'down', label: 'Down', kind: 'money', width: 92, value: (s: Source) => s.down, total: true } as const,
        { id: 'acts', label: 'Change', width: 92, value: () => '', acts: true } as const,
      ]
    : []),
])
const openedKey = computed(() => {
  const row = props.invoice.sources?.find((s) => s.sourceId && s.sourceId === opened.value)
  return row ? `${row.kind}${row.id}` : ''
})
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
    :row-name="(s) => s.text"
    :opened="openedKey"
  >
    <template #tools><h2 class="strong one-line">On this invoice</h2></template>
    <template #acts="{ row }"
      ><button
        v-if="row.sourceId"
        class="lnk"
        :aria-label="`Take back what was written down of ${row.text}`"
        @click="opened = opened === row.sourceId ? 0 : row.sourceId"
      >
        Take back
      </button></template
    >
    <template #below="{ row }">
      <FormCard :form="form" :label="`Take back ${row.text}`" submit="Take it back" cancel="Close" @cancel="opened = 0">
        <FormField label="Amount" name="amount" kind="money" :hint="`all: ${figure(row.down)}`" focus />
        <FormField label="Note" name="note" size="wide" />
        <template #after><span class="soft">It is ready to bill again, at the charge it had.</span></template>
      </FormCard>
    </template>
  </Ledger>
</template>

<style scoped>
.one-line {
  white-space: nowrap;
}
</style>
