<script setup lang="ts">
import { useScope } from '@/book/scope'
import { answered, client, type Schema } from '@/api/client'
import { useForm } from '@/book/form'
import FormCard from '@/parts/FormCard.vue'
import FormField from '@/parts/FormField.vue'
import Ledger from '@/parts/Ledger.vue'
import { addressOf } from '@/parts/addresses'
import { counted } from '@/parts/figures'
import type { Column } from '@/parts/ledger'
import { terms } from '@/book/english'
import { useAdding } from './adding'
import { contact } from './contacts'
import CustomerFields from './CustomerFields.vue'
import MergeInto from './MergeInto.vue'
import { useEdit } from '@/parts/edit'
import EditCard from '@/parts/EditCard.vue'

/** Customers: who pays, on which terms, and how their invoices are made. Two that are one are merged. */
const props = defineProps<{ setup: Schema['SetupSheet']; choices: Schema['Choices']; adding: boolean }>()
const open = useAdding(
  () => props.adding,
  () => !props.setup.customers?.length,
)
const form = useForm({
  blank: () => ({
    name: '',
    address: '',
    email: '',
    contacts: [] as Schema['Contact'][],
    phone: '',
    postCode: '',
    city: '',
    region: '',
    country: '',
    taxNumber: '',
    reference: '',
    openBook: false,
    registration: '',
    endpoint: '',
    endpointScheme: '',
    termsDays: '',
    invoicePer: 'job',
    card: '',
    taxCode: '',
    taxExempt: false,
  }),
  keep: ['termsDays', 'invoicePer'],
  send: (body) => answered(client.POST('/api/customers', { body })),
})
type Row = Schema['CustomerRow']
const edit = useEdit({
  typed: (c: Row) => ({
    name: c.name,
    address: c.address,
    email: c.email,
    contacts: (c.contacts ?? []).map((p) => ({ ...contact(), ...p })),
    phone: c.phone,
    postCode: c.postCode,
    city: c.city,
    region: c.region,
    country: c.country,
    taxNumber: c.taxNumber,
    reference: c.reference,
    openBook: c.openBook,
    registration: c.registration,
    endpoint: c.endpoint,
    endpointScheme: c.endpointScheme,
    termsDays: c.terms,
    invoicePer: c.invoicePer as Schema['NewCustomer']['invoicePer'],
    card: c.card,
    taxCode: c.taxCode,
    taxExempt: c.taxExempt,
    active: c.active,
  }),
  put: (c, body, query) => answered(client.PUT('/api/customers/{id}', { params: { path: { id: c.id }, query }, body })),
  remove: (c, body) => answered(client.POST('/api/customers/{id}/delete', { params: { path: { id: c.id } }, body })),
})
const columns: Column<Row>[] = [
  { id: 'name', label: 'Customer', width: 240, value: (c) => c.name, tone: 'strong' },
  {
    id: 'address',
    label: 'Address',
    value: (c) => [c.address, c.city].filter(Boolean).join(', '),
    tone: 'soft',
    hideBelow: 1100,
  },
  {
    id: 'terms',
    label: 'Terms',
    kind: 'number',
    width: 100,
    value: (c) => c.terms,
    text: (c) => (c.terms ? terms(c.terms) : ''),
  },
  { id: 'invoice', label: 'Invoice', width: 150, value: (c) => (c.invoicePer === 'job' ? 'per job' : 'for all jobs') },
  { id: 'card', label: 'Rate card', width: 170, value: (c) => c.card || 'company card', tone: 'soft' },
  { id: 'jobs', label: 'Jobs', kind: 'number', width: 80, value: (c) => c.jobs },
  { id: 'acts', label: 'Change', width: 90, value: () => '', acts: true },
]
const scope = useScope()
</script>

<template>
  <section class="listing">
    <FormCard v-if="open" :form="form" label="New customer" submit="Add customer" cancel="Close" @cancel="open = false">
      <CustomerFields :choices="choices" :form="form" />
    </FormCard>
    <Ledger
      name="customers"
      label="Customers"
      of="customer"
      :columns="columns"
      :rows="setup.customers ?? []"
      :row-key="(c) => c.id"
      :find="scope.text('find')"
      :opened="edit.row.value?.id"
    >
      <template #name="{ row }"
        ><router-link :to="addressOf({ kind: 'customer', id: row.id })">{{ row.name }}</router-link
        ><span v-if="!row.active" class="soft"> retired</span></template
      >
      <template #acts="{ row }"><button class="lnk" @click="edit.open(row)">Change</button></template>
      <template #below="{ row }">
        <EditCard :edit="edit" :now="row" :label="`Change ${row.name}`">
          <CustomerFields :choices="choices" :form="edit.form" />
          <FormField label="Offered for new jobs" name="active" kind="check" />
        </EditCard>
        <MergeInto
          :goes="row"
          :all="setup.customers ?? []"
          :sub="(id) => counted(setup.customers!.find((c) => c.id === id)!.jobs, 'job')"
          :sure="`Its ${counted(row.jobs, 'job')}, invoices, payments, messages and contacts go to the other one, with the terms, rates and taxes of that one. Issued invoices keep their words. It can't be undone.`"
          :send="
            (id, body, query) =>
              answered(client.POST('/api/customers/{id}/merge', { params: { path: { id }, query }, body }))
          "
          @merged="edit.close()"
        />
      </template>
      <template #tools><v-btn v-if="!open" class="small go" @click="open = true">New customer</v-btn></template>
      <template #empty>No customer yet. A name is enough to open the first job.</template>
    </Ledger>
  </section>
</template>
