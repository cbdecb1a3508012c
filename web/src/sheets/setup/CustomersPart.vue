<script setup lang="ts">
import { useScope } from '@/book/scope'
import { answered, client, type Schema } from '@/api/client'
import { useForm } from '@/book/form'
import FormCard from '@/parts/FormCard.vue'
import FormField from '@/parts/FormField.vue'
import Ledger from '@/parts/Ledger.vue'
import { counted } from '@/parts/figures'
import type { Column } from '@/parts/ledger'
import { useAdding } from './adding'

/** Customers: who pays, on which terms, and how their invoices are made. */
const props = defineProps<{ setup: Schema['SetupSheet']; choices: Schema['Choices']; adding: boolean }>()
const open = useAdding(
  () => props.adding,
  () => !props.setup.customers?.length,
)
const form = useForm({
  blank: () => ({ name: '', email: '', address: '', termsDays: '', invoicePer: 'job', card: '' }),
  keep: ['termsDays', 'invoicePer'],
  send: (body) => answered(client.POST('/api/customers', { body })),
})
type Row = NonNullable<Schema['SetupSheet']['customers']>[number]
const columns: Column<Row>[] = [
  { id: 'name', label: 'Customer', width: 240, value: (c) => c.name, tone: 'strong' },
  { id: 'address', label: 'Address', value: (c) => c.address, tone: 'soft', hideBelow: 1100 },
  {
    id: 'terms',
    label: 'Terms',
    kind: 'number',
    width: 100,
    value: (c) => c.terms,
    text: (c) => (c.terms ? counted(Number(c.terms), 'day') : ''),
  },
  { id: 'invoice', label: 'Invoice', width: 150, value: (c) => (c.invoicePer === 'job' ? 'per job' : 'for all jobs') },
  { id: 'card', label: 'Rate card', width: 170, value: (c) => c.card || 'company card', tone: 'soft' },
  { id: 'jobs', label: 'Jobs', kind: 'number', width: 80, value: (c) => c.jobs },
]
const scope = useScope()
</script>

<template>
  <section class="listing">
    <FormCard v-if="open" :form="form" label="New customer" submit="Add customer" cancel="Close" @cancel="open = false">
      <FormField label="Name" name="name" size="wide" />
      <FormField label="Address" name="address" size="wide" />
      <FormField label="E-mail" name="email" kind="email" size="wide" />
      <FormField label="Payment terms" name="termsDays" kind="number" hint="30" unit="days" size="short" />
      <FormField
        label="Invoice"
        name="invoicePer"
        kind="choice"
        :options="[
          ['job', 'per job'],
          ['customer', 'for all jobs'],
        ]"
      />
      <FormField label="Rate card of its own" name="card" :list="choices.cards?.map((c) => c.name)" />
    </FormCard>
    <Ledger
      name="customers"
      label="Customers"
      of="customer"
      :columns="columns"
      :rows="setup.customers ?? []"
      :row-key="(c) => c.id"
      :find="scope.text('find')"
    >
      <template #tools><v-btn v-if="!open" class="small go" @click="open = true">New customer</v-btn></template>
      <template #empty>No customer yet. A name is enough to open the first job.</template>
    </Ledger>
  </section>
</template>
