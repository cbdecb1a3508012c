<script setup lang="ts">
import { ref } from 'vue'
import { answered, client, type Schema } from '@/api/client'
import { useForm } from '@/book/form'
import EditCard from '@/parts/EditCard.vue'
import FormCard from '@/parts/FormCard.vue'
import FormField from '@/parts/FormField.vue'
import Ledger from '@/parts/Ledger.vue'
import { useEdit } from '@/parts/edit'
import type { Column } from '@/parts/ledger'

/** Units of measure of one's own, beside those that everybody has: offered while a paper is typed, with their code for e-invoices. */
defineProps<{ units: Schema['UnitRow'][] }>()
type Row = Schema['UnitRow']
const adding = ref(false)
const form = useForm({
  blank: () => ({ name: '', code: '' }),
  send: (body) => answered(client.POST('/api/units', { body })),
})
const edit = useEdit({
  typed: (u: Row) => ({ name: u.name, code: u.code }),
  put: (u, body, query) => answered(client.PUT('/api/units/{id}', { params: { path: { id: u.id }, query }, body })),
  remove: (u, body) => answered(client.POST('/api/units/{id}/delete', { params: { path: { id: u.id } }, body })),
})
const columns: Column<Row>[] = [
  { id: 'name', label: 'Unit of our own', value: (u) => u.name, tone: 'strong' },
  { id: 'code', label: 'Code, UN rec. 20', width: 120, value: (u) => u.code },
  { id: 'acts', label: 'Change', width: 90, value: () => '', acts: true },
]
</script>

<template>
  <FormCard v-if="adding" :form="form" label="New unit" submit="Add unit" cancel="Close" @cancel="adding = false">
    <FormField label="Unit, as on papers" name="name" />
    <FormField label="Code, UN rec. 20" name="code" size="short" />
  </FormCard>
  <Ledger
    name="units"
    label="Units"
    of="unit"
    :columns="columns"
    :rows="units"
    :row-key="(u) => u.id"
    :opened="edit.row.value?.id"
  >
    <template #tools><v-btn v-if="!adding" class="small go" @click="adding = true">New unit</v-btn></template>
    <template #acts="{ row }"><button class="lnk" @click="edit.open(row)">Change</button></template>
    <template #below="{ row }">
      <EditCard :edit="edit" :now="row" :label="`Change unit ${row.name}`">
        <FormField label="Unit, as on papers" name="name" />
        <FormField label="Code, UN rec. 20" name="code" size="short" />
      </EditCard>
    </template>
    <template #empty
      >Pieces, hours, feet, metres, gallons, tonnes and the like are there. Add what you buy by beside them.</template
    >
  </Ledger>
</template>
