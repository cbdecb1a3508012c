<script setup lang="ts">
import { computed } from 'vue'
import type { Schema } from '@/api/client'
import Ledger from '@/parts/Ledger.vue'
import { figure, isNegative, kindNames } from '@/parts/figures'
import type { Column } from '@/parts/ledger'

/** What is agreed and planned of a job against what it has cost: its fixed parts, its limits, its budget by phase and kind of cost. */
const props = defineProps<{ plan: Schema['Plan'] }>()
type Kind = NonNullable<Schema['Plan']['kinds']>[number]
type Part = NonNullable<Schema['Plan']['parts']>[number]
type Limit = NonNullable<Schema['Plan']['limits']>[number]
const planned = computed(() => (props.plan.kinds ?? []).some((k) => k.budget || k.forecast))
const isZero = (text: string) => !Number(text)
const plus = (text: string) => figure(text.replace('-', ''))
const parts: Column<Part>[] = [
  { id: 'part', label: 'Fixed price', value: (p) => p.name },
  { id: 'contract', label: 'Contract', kind: 'money', width: 96, value: (p) => p.contract, total: true },
  {
    id: 'cost',
    label: 'Cost',
    kind: 'money',
    width: 112,
    rule: true,
    value: (p) => p.cost,
    sub: (p) => (p.unmeasured ? 'not measured' : p.expected && `of ${figure(p.expected)}`),
    total: true,
  },
  {
    id: 'earned',
    label: 'Earned',
    kind: 'money',
    width: 120,
    value: (p) => p.earned,
    sub: (p) => (isZero(p.provision) ? '' : `provision ${figure(p.provision)}`),
    total: true,
  },
  {
    id: 'billed',
    label: 'Billed',
    kind: 'money',
    width: 120,
    value: (p) => p.billed,
    sub: (p) => (isZero(p.overBilled) ? '' : `${plus(p.overBilled)} ${isNegative(p.overBilled) ? 'under' : 'over'}`),
    total: true,
  },
]
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
  { id: 'kind', label: 'Kind of cost', value: (k) => kindNames[k.category] },
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
  },
  {
    id: 'expected',
    label: 'At completion',
    kind: 'money',
    width: 104,
    value: (k) => k.expected,
    sub: (k) => (k.forecast ? 'typed' : k.done ? 'done' : ''),
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
