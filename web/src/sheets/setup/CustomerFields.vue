<script setup lang="ts">
import { computed } from 'vue'
import type { Schema } from '@/api/client'
import FormField from '@/parts/FormField.vue'
import FormRows from '@/parts/FormRows.vue'
import { countries } from '@/parts/countries'
import type { RowField } from '@/parts/formRows'
import { contact } from './contacts'

/** The fields of a customer, in the form of a new one and in the one that changes it. */
const props = defineProps<{
  choices: Schema['Choices']
  form: { model: { contacts: Schema['Contact'][] }; wrong: Record<string, string> }
}>()
const people: RowField<Schema['Contact']>[] = [
  { id: 'name', label: 'Person', width: 190 },
  { id: 'role', label: 'What they do', width: 170 },
  { id: 'email', label: 'E-mail', width: 250 },
  { id: 'invoices', label: 'Invoices', kind: 'check', width: 70 },
  { id: 'statements', label: 'Statements', kind: 'check', width: 80 },
  { id: 'reminders', label: 'Reminders', kind: 'check', width: 80 },
]
const per = [
  ['job', 'per job'],
  ['customer', 'for all jobs'],
] as const
const taxes = computed(() => [
  ['', "the company's"] as const,
  ...(props.choices.taxCodes ?? []).map((t) => [t.name, t.name] as const),
])
const rows = computed({
  get: () => props.form.model.contacts,
  // eslint-disable-next-line vue/no-mutating-props -- the form is shared, as its fields share it
  set: (to) => (props.form.model.contacts = to),
})
</script>

<template>
  <FormField label="Name" name="name" size="wide" />
  <FormField label="Street, lines above the city" name="address" kind="lines" size="wide" />
  <FormField label="Post code" name="postCode" size="short" />
  <FormField label="City" name="city" />
  <FormField label="State or region" name="region" />
  <FormField label="Country" name="country" kind="choice" :options="countries" />
  <FormField label="General e-mail" name="email" size="wide" hint="name@firm.example, …" />
  <FormField label="Phone" name="phone" />
  <FormField label="Payment terms" name="termsDays" kind="number" hint="the company's" unit="days" />
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
  <FormRows
    v-model="rows"
    label="People"
    name="contacts"
    :fields="people"
    :blank="contact"
    :wrong="form.wrong"
    another="Add a person"
  />
</template>
