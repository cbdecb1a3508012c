<script setup lang="ts">
import type { UseQueryReturnType } from '@tanstack/vue-query'
import { computed } from 'vue'
import type { Schema } from '@/api/client'
import Amount from '@/parts/Amount.vue'
import Await from '@/parts/Await.vue'
import Ledger from '@/parts/Ledger.vue'
import Trail from '@/parts/Trail.vue'
import { counted, kindNames, shortDay } from '@/parts/figures'
import type { Column } from '@/parts/ledger'
import type { Document } from './document'
import type { useUnsaved } from './unsaved'

/** The papers of a time: first those that were typed and never saved, then what the book has. */
const props = defineProps<{
  asked: UseQueryReturnType<Schema['DocumentList'], Error>
  unsaved: ReturnType<typeof useUnsaved>
  open?: Document
}>()
const emit = defineEmits<{ choose: [id: number]; resume: [paper: Document] }>()
type Row = { key: string; title: string; date: string; said: string; warns: boolean; total?: string } & (
  { paper: Document; saved?: never } | { saved: Schema['DocumentRow']; paper?: never }
)
function ofSaved(d: Schema['DocumentRow']): Row {
  const warning = props.unsaved.of(d)
    ? 'changes not saved yet'
    : d.void
      ? `void: ${d.void}`
      : d.noJob
        ? `${counted(d.noJob, 'line')} without a job`
        : ''
  const said = warning || `${shortDay(d.date)}, ${d.detail}${d.scans ? ', scan' : ''}`
  return { key: String(d.id), title: d.title, date: d.date, said, warns: !!warning, total: d.total, saved: d }
}
const rows = computed<Row[]>(() => [
  ...props.unsaved.fresh.value.map((paper): Row => ({
    key: `new ${paper.key}`,
    title: paper.supplier || kindNames[paper.kind] || 'New paper',
    date: paper.date,
    said: `${shortDay(paper.date)}, not saved yet`,
    warns: true,
    paper,
  })),
  ...(props.asked.data.value?.documents ?? []).map(ofSaved),
])
const opened = computed(() => (props.open?.id ? String(props.open.id) : `new ${props.open?.key}`))
const columns: Column<Row>[] = [
  { id: 'title', label: 'Supplier or person', value: (d) => d.title, sub: (d) => d.said },
  {
    id: 'date',
    label: 'Date',
    kind: 'date',
    width: 82,
    value: (d) => d.date,
    text: (d) => shortDay(d.date),
    hideBelow: 4000,
  },
  { id: 'total', label: 'Cost', kind: 'money', width: 76, value: (d) => d.total, total: true },
  { id: 'trail', label: 'Trail', width: 50, value: (d) => d.saved?.trail.text, text: () => '', hideBelow: 1181 },
]
const go = (d: Row) => (d.paper ? emit('resume', d.paper) : emit('choose', d.saved.id))
</script>

<template>
  <section class="list">
    <Await v-slot="{ data: list }" :of="asked" what="the papers">
      <Ledger
        name="papers"
        label="Papers"
        of="paper"
        :columns="columns"
        :rows="rows"
        :row-key="(d) => d.key"
        :row-name="(d) => d.title"
        :opened="opened"
        :sums="{ total: list.total }"
        opens
        @open="go"
      >
        <template #title="{ row }"
          ><span class="two"
            ><span>{{ row.title }}</span
            ><small :class="{ warnword: row.warns }">{{ row.said }}</small></span
          ></template
        >
        <template #total="{ row }"><Amount :of="row.total" /></template>
        <template #trail="{ row }"
          ><Trail v-if="row.saved" :trail="row.saved.trail" kind="cost_document" :ids="[row.saved.id]"
        /></template>
        <template #empty>No paper in this time. Suppliers' invoices and receipts go here, by the line.</template>
        <template #key
          ><p v-if="list.count > (list.documents?.length ?? 0)" class="key">
            {{ counted(list.count, 'paper') }}, the newest {{ list.documents?.length }} are listed.
          </p></template
        >
      </Ledger>
    </Await>
  </section>
</template>

<style scoped>
.list :is(td, th) {
  padding-left: 6px;
}
</style>
