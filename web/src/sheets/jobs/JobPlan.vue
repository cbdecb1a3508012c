<script setup lang="ts">
import { computed } from 'vue'
import type { Schema } from '@/api/client'
import Ledger from '@/parts/Ledger.vue'
import { figure, kindNames } from '@/parts/figures'
import type { Column } from '@/parts/ledger'

/** What is agreed and planned of a job against what it has cost: its fixed parts, its limits, its budget by phase and kind of cost. */
const props = defineProps<{ plan: Schema['Plan']; planned: boolean }>()
type Kind = NonNullable<Schema['Plan']['kinds']>[number]
type Part = NonNullable<Schema['Plan']['parts']>[number]
type Limit = NonNullable<Schema['Plan']['limits']>[number]
const isZero = (text: string) => !Number(text)
const some = <R,>(rows: R[] | null, column: Column<R>) => ((rows ?? []).some(column.value) ? [column] : [])
/** One part needs no sum, and its contract and provision stand above it already. */
const several = computed(() => (props.plan.parts?.length ?? 0) > 1)
const repeated = computed(() => (several.value ? 0 : 1180))
const parts = computed<Column<Part>[]>(() => [
  { id: 'part', label: 'Fixed price', value: (p) => p.name },
  {
    id: 'contract',
    label: 'Contract',
    kind: 'money',
    width: 96,
    value: (p) => p.contract,
    total: several.value,
    hideBelow: repeated.value,
  },
  { id: 'cost', label: 'Cost', kind: 'money', width: 88, value: (p) => p.cost, total: several.value, rule: true },
  {
    id: 'expected',
    label: 'At completion',
    kind: 'money',
    width: 96,
    value: (p) => p.expected,
    text: (p) => (p.unmeasured ? 'not measured' : figure(p.expected)),
    tone: (p) => (p.unmeasured ? 'soft' : ''),
    title: 'what it will cost in the end',
  },
  { id: 'earned', label: 'Earned', kind: 'money', width: 92, value: (p) => p.earned, total: several.value, rule: true },
  ...some(props.plan.parts, {
    id: 'provision',
    label: 'Provision',
    kind: 'money',
    width: 84,
    value: (p) => (isZero(p.provision) ? '' : p.provision),
    title: 'the part of a loss foreseen that has not come yet',
    total: several.value,
    hideBelow: repeated.value,
  }),
  {
    id: 'over',
    label: 'Over-billed',
    kind: 'money',
    width: 92,
    value: (p) => p.overBilled,
    title: 'billed less earned; below 0 it is under-billed',
    total: several.value,
  },
])
const limits: Column<Limit>[] = [
  { id: 'phase', label: 'Not to exceed', value: (l) => l.phase || 'The job' },
  { id: 'agreed', label: 'Agreed', kind: 'money', width: 96, value: (l) => l.agreed },
  {
    id: 'used',
    label: 'Used',
    kind: 'money',
    width: 96,
    value: (l) => l.used,
    title: 'billed and on drafts',
    rule: true,
  },
  { id: 'ready', label: 'Ready', kind: 'money', width: 96, value: (l) => l.ready },
  {
    id: 'held',
    label: 'Held',
    kind: 'money',
    width: 96,
    value: (l) => (isZero(l.held) ? '' : l.held),
    title: 'over the limit: billed when more is agreed',
    tone: () => 'warnword',
  },
]
const kinds: Column<Kind>[] = [
  {
    id: 'kind',
    label: 'Kind of cost',
    value: (k) => kindNames[k.category],
    sub: (k) => (k.done ? 'done' : k.forecast ? 'forecast typed' : ''),
  },
  { id: 'budget', label: 'Budget', kind: 'money', width: 96, value: (k) => k.budget, total: true },
  { id: 'cost', label: 'Actual', kind: 'money', width: 96, value: (k) => k.cost, total: true, rule: true },
  {
    id: 'pending',
    label: 'Not approved',
    kind: 'money',
    width: 96,
    value: (k) => (isZero(k.pending) ? '' : k.pending),
    total: true,
    tone: 'soft',
    hideBelow: 1180,
  },
  {
    id: 'expected',
    label: 'At completion',
    kind: 'money',
    width: 104,
    value: (k) => k.expected,
    total: true,
    rule: true,
  },
  { id: 'difference', label: 'Difference', kind: 'money', width: 96, value: (k) => k.difference, total: true },
]
const phases = computed(() => new Set((props.plan.kinds ?? []).map((k) => k.phase)).size > 1)
</script>

<template>
  <Ledger
    v-if="plan.limits?.length"
    name="job-limits"
    label="Limits"
    of="limit"
    bare
    flat
    :columns="limits"
    :rows="plan.limits"
    :row-key="(l) => l.phase"
  >
    <template #phase="{ row }"
      ><i v-if="row.near" class="flag" title="a fifth or less of it is left"></i>{{ row.phase || 'The job' }}</template
    >
  </Ledger>
  <Ledger
    v-if="plan.parts?.length"
    name="job-parts"
    label="Fixed price"
    of="part"
    bare
    flat
    :columns="parts"
    :rows="plan.parts"
    :row-key="(p) => p.name"
  />
  <Ledger
    v-if="planned"
    name="job-budget"
    label="Budget"
    of="kind of cost"
    bare
    flat
    :columns="kinds"
    :rows="plan.kinds ?? []"
    :row-key="(k) => `${k.phase} ${k.category}`"
    :group-by="phases ? (k) => k.phase || 'Without a phase' : undefined"
  />
</template>
