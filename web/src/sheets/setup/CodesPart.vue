<script setup lang="ts">
import { answered, client, type Schema } from '@/api/client'
import { useForm } from '@/book/form'
import FormCard from '@/parts/FormCard.vue'
import FormField from '@/parts/FormField.vue'
import Ledger from '@/parts/Ledger.vue'
import type { Column } from '@/parts/ledger'
import { useEdit } from '@/parts/edit'
import EditCard from '@/parts/EditCard.vue'

/** Cost codes, and the taxes that a bundle brought in. */
defineProps<{ setup: Schema['SetupSheet'] }>()
const form = useForm({
  blank: () => ({ code: '', name: '' }),
  send: (body) => answered(client.POST('/api/cost-codes', { body })),
})
type Code = Schema['CodeRow']
const edit = useEdit({
  typed: (c: Code) => ({ code: c.code, name: c.name, active: c.active }),
  put: (c, body, query) =>
    answered(client.PUT('/api/cost-codes/{id}', { params: { path: { id: c.id }, query }, body })),
  remove: (c, body) => answered(client.POST('/api/cost-codes/{id}/delete', { params: { path: { id: c.id } }, body })),
})
const codes: Column<Code>[] = [
  { id: 'code', label: 'Code', width: 120, value: (c) => c.code, tone: 'strong' },
  { id: 'name', label: 'Description', value: (c) => c.name },
  { id: 'acts', label: 'Change', width: 90, value: () => '', acts: true },
]
type Tax = NonNullable<Schema['SetupSheet']['taxCodes']>[number]
const taxes: Column<Tax>[] = [
  { id: 'code', label: 'Tax code', width: 120, value: (t) => t.code, tone: 'strong' },
  { id: 'component', label: 'Component', value: (t) => t.component },
  { id: 'percent', label: 'Percent', kind: 'percent', width: 100, value: (t) => t.percent },
  { id: 'on', label: 'On', width: 150, value: (t) => t.appliesTo, tone: 'soft' },
]
</script>

<template>
  <div class="split two-parts">
    <section>
      <FormCard :form="form" label="New cost code" submit="Add cost code">
        <FormField label="Code" name="code" size="short" />
        <FormField label="Description" name="name" size="wide" />
      </FormCard>
      <Ledger
        name="codes"
        label="Cost codes"
        of="cost code"
        :columns="codes"
        :rows="setup.costCodes ?? []"
        :row-key="(c) => c.id"
        :opened="edit.row.value?.id"
      >
        <template #name="{ row }">{{ row.name }}<span v-if="!row.active" class="soft"> retired</span></template>
        <template #acts="{ row }"><button class="lnk" @click="edit.open(row)">Change</button></template>
        <template #below="{ row }">
          <EditCard :edit="edit" :label="`Change cost code ${row.code}`">
            <FormField label="Code" name="code" size="short" />
            <FormField label="Description" name="name" size="wide" />
            <FormField label="Offered" name="active" kind="check" />
          </EditCard>
        </template>
        <template #empty>No cost codes. They say what kind of work was done.</template>
      </Ledger>
    </section>
    <section>
      <Ledger
        name="taxes"
        label="Taxes"
        of="tax"
        :columns="taxes"
        :rows="setup.taxCodes ?? []"
        :row-key="(t) => `${t.code} ${t.component}`"
      >
        <template #empty>No taxes. They are brought in with a bundle, in tax_codes.csv.</template>
      </Ledger>
    </section>
  </div>
</template>

<style scoped>
.two-parts {
  grid-template-columns: 1fr 1fr;
}
</style>
