<script setup lang="ts">
import { computed } from 'vue'
import { useScope } from '@/book/scope'
import { answered, client, type Schema } from '@/api/client'
import { useForm } from '@/book/form'
import FormCard from '@/parts/FormCard.vue'
import FormField from '@/parts/FormField.vue'
import FormRows from '@/parts/FormRows.vue'
import type { RowField } from '@/parts/formRows'
import Ledger from '@/parts/Ledger.vue'
import { addressOf } from '@/parts/addresses'
import { countries } from '@/parts/countries'
import { counted } from '@/parts/figures'
import type { Column } from '@/parts/ledger'
import { useAdding } from './adding'
import { useEdit } from '@/parts/edit'
import EditCard from '@/parts/EditCard.vue'

/** Customers: who pays, on which terms, and how their invoices are made. */
const props = defineProps<{ setup: Schema['SetupSheet']; choices: Schema['Choices']; adding: boolean }>()
const open = useAdding(
  () => props.adding,
  () => !props.setup.customers?.length,
)
const form = useForm({
  blank: () => ({
    name: '',
    email: '',
    address: '',
    termsDays: '',
    invoicePer: 'job',
    card: '',
    contacts: [] as Contact[],
  }),
  keep: ['termsDays', 'invoicePer'],
  send: (body) => answered(client.POST('/api/customers', { body })),
})
type Row = Schema['CustomerRow']
type Contact = Schema['Contact']
const contact = (): Contact => ({
  name: '',
  role: '',
  email: '',
  invoices: false,
  statements: false,
  reminders: false,
})
const people: RowField<Contact>[] = [
  { id: 'name', label: 'Person', width: 190 },
  { id: 'role', label: 'What they do', width: 170 },
  { id: 'email', label: 'E-mail', width: 250 },
  { id: 'invoices', label: 'Invoices', kind: 'check', width: 70 },
  { id: 'statements', label: 'Statements', kind: 'check', width: 80 },
  { id: 'reminders', label: 'Reminders', kind: 'check', width: 80 },
]
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
const per = [
  ['job', 'per job'],
  ['customer', 'for all jobs'],
] as const
const taxes = computed(() => [
  ['', "the company's"] as const,
  ...(props.choices.taxCodes ?? []).map((t) => [t.name, t.name] as const),
])
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
    text: (c) => (c.terms ? counted(Number(c.terms), 'day') : ''),
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
      <FormField label="Name" name="name" size="wide" />
      <FormField label="Address" name="address" kind="lines" size="wide" />
      <FormField label="General e-mail" name="email" size="wide" hint="name@firm.example, …" />
      <FormField label="Payment terms" name="termsDays" kind="number" hint="30" unit="days" size="short" />
      <FormField label="Invoice" name="invoicePer" kind="choice" :options="per" />
      <FormField label="Rate card of its own" name="card" :list="choices.cards?.map((c) => c.name)" />
      <FormRows
        v-model="form.model.contacts"
        label="People"
        name="contacts"
        :fields="people"
        :blank="contact"
        :wrong="form.wrong"
        another="Add a person"
      />
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
          <FormField label="Name" name="name" size="wide" />
          <FormField label="Street, lines above the city" name="address" kind="lines" size="wide" />
          <FormField label="Post code" name="postCode" size="short" />
          <FormField label="City" name="city" />
          <FormField label="State or region" name="region" />
          <FormField label="Country" name="country" kind="choice" :options="countries" />
          <FormField label="General e-mail" name="email" size="wide" hint="name@firm.example, …" />
          <FormField label="Phone" name="phone" />
          <FormField label="Payment terms" name="termsDays" kind="number" hint="company's" unit="days" size="short" />
          <FormField label="Invoice" name="invoicePer" kind="choice" :options="per" />
          <FormField label="Rate card of its own" name="card" :list="choices.cards?.map((c) => c.name)" />
          <FormField label="Tax code" name="taxCode" kind="choice" :options="taxes" />
          <FormField label="Their tax number" name="taxNumber" />
          <FormField label="Their reference, on e-invoices" name="reference" />
          <FormField label="Number in the register" name="registration" />
          <FormField label="E-invoices reach them at" name="endpoint" />
          <FormField label="Kind of that address, EAS" name="endpointScheme" size="short" hint="0088, EM" />
          <FormField label="Open book: sees costs and markups" name="openBook" kind="check" />
          <FormField label="Pays no tax" name="taxExempt" kind="check" />
          <FormField label="Offered for new jobs" name="active" kind="check" />
          <FormRows
            v-model="edit.form.model.contacts"
            label="People"
            name="contacts"
            :fields="people"
            :blank="contact"
            :wrong="edit.form.wrong"
            another="Add a person"
          />
        </EditCard>
      </template>
      <template #tools><v-btn v-if="!open" class="small go" @click="open = true">New customer</v-btn></template>
      <template #empty>No customer yet. A name is enough to open the first job.</template>
    </Ledger>
  </section>
</template>
