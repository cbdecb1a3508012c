<script setup lang="ts">
import type { Schema } from '@/api/client'
import { useScope } from '@/book/scope'
import Ledger from '@/parts/Ledger.vue'
import { shortDay } from '@/parts/figures'
import type { Column } from '@/parts/ledger'

/** Deposits that were asked for, and what of them is still to be set against invoices. */
defineProps<{ rows: Schema['DepositRow'][] }>()
const scope = useScope()
type Row = Schema['DepositRow']
const columns: Column<Row>[] = [
  { id: 'job', label: 'Deposits open', value: (r) => `${r.job} ${r.name}`, sub: (r) => r.customer },
  { id: 'number', label: 'Invoice no.', width: 100, value: (r) => r.number },
  { id: 'date', label: 'Dated', kind: 'date', width: 110, value: (r) => r.date, text: (r) => shortDay(r.date) },
  { id: 'asked', label: 'Asked', kind: 'money', width: 110, value: (r) => r.asked, total: true, rule: true },
  { id: 'paid', label: 'Paid, with tax', kind: 'money', width: 120, value: (r) => r.paid, total: true },
  { id: 'applied', label: 'Applied', kind: 'money', width: 110, value: (r) => r.applied, total: true },
  { id: 'drafts', label: 'On drafts', kind: 'money', width: 110, value: (r) => r.onDrafts, total: true, tone: 'soft' },
  { id: 'open', label: 'Open', kind: 'money', width: 110, value: (r) => r.open, total: true, tone: 'strong' },
]
</script>

<template>
  <Ledger
    name="deposits"
    label="Deposits open"
    of="deposit"
    :columns="columns"
    :rows="rows"
    :row-key="(r) => r.id"
    :row-name="(r) => `deposit ${r.number}`"
  >
    <template #tools
      ><h2 class="strong">Deposits open</h2>
      <span class="soft">asked for beforehand, applied on a draft of the customer</span></template
    >
    <template #number="{ row }"
      ><button class="lnk" @click="scope.change({ list: 'issued', span: 'all', open: String(row.id) })">
        {{ row.number }}
      </button></template
    >
  </Ledger>
</template>
