<script setup lang="ts">
import { answered, client, type Schema } from '@/api/client'
import { useForm } from '@/book/form'
import FormCard from '@/parts/FormCard.vue'
import FormField from '@/parts/FormField.vue'
import Ledger from '@/parts/Ledger.vue'
import type { Column } from '@/parts/ledger'
import { useEdit } from '@/parts/edit'
import EditCard from '@/parts/EditCard.vue'
import { wagePer } from './wages'

/** The wages of a worker by date: the next one is added, a mistyped one corrected. */
const props = defineProps<{ worker: Schema['WorkerRow']; asOf: string }>()
const emit = defineEmits<{ close: [] }>()
const raise = useForm({
  blank: () => ({
    rate: props.worker.wage ?? '',
    per: props.worker.per ?? 'hour',
    effectiveFrom: props.worker.noWageSince ?? props.asOf,
  }),
  send: (body) => answered(client.POST('/api/wages', { body: { workerId: props.worker.id, ...body } })),
  done: () => emit('close'),
})
type Row = Schema['WageRow']
const edit = useEdit({
  typed: (w: Row) => ({ rate: w.rate, per: w.per, effectiveFrom: w.effectiveFrom }),
  put: (w, body, query) =>
    answered(
      client.PUT('/api/wages/{id}', {
        params: { path: { id: w.id }, query },
        body: { workerId: props.worker.id, ...body },
      }),
    ),
  remove: (w, body) => answered(client.POST('/api/wages/{id}/delete', { params: { path: { id: w.id } }, body })),
})
const columns: Column<Row>[] = [
  { id: 'from', label: 'From', kind: 'date', width: 150, value: (w) => w.effectiveFrom },
  { id: 'rate', label: 'Wage', kind: 'money', width: 110, value: (w) => w.rate },
  {
    id: 'per',
    label: 'Paid',
    width: 110,
    value: (w) => (w.per === 'week' ? 'by the week' : 'by the hour'),
    tone: 'soft',
  },
  { id: 'acts', label: 'Change', value: () => '', acts: true },
]
</script>

<template>
  <div class="wages">
    <FormCard
      :form="raise"
      :label="`New wage of ${worker.name}`"
      submit="Save wage"
      cancel="Cancel"
      @cancel="emit('close')"
    >
      <FormField :label="`Wage of ${worker.name}`" name="rate" kind="money" />
      <FormField label="Paid" name="per" kind="choice" :options="wagePer" />
      <FormField label="From" name="effectiveFrom" kind="date" />
      <template #after
        ><span class="soft">{{
          raise.model.per === 'week'
            ? 'What is paid by the week holds from the next week that begins, and is spread over its hours.'
            : 'Work before that day keeps the wage it had.'
        }}</span></template
      >
    </FormCard>
    <Ledger
      v-if="worker.wages?.length"
      name="wages"
      :label="`Wages of ${worker.name}`"
      of="wage"
      bare
      :columns="columns"
      :rows="worker.wages"
      :row-key="(w) => w.id"
      :opened="edit.row.value?.id"
    >
      <template #acts="{ row }"><button class="lnk" @click="edit.open(row)">Correct</button></template>
      <template #below="{ row }">
        <EditCard :edit="edit" :now="row" :label="`Correct a wage of ${worker.name}`">
          <FormField label="Wage" name="rate" kind="money" />
          <FormField label="Paid" name="per" kind="choice" :options="wagePer" />
          <FormField label="From" name="effectiveFrom" kind="date" />
        </EditCard>
      </template>
    </Ledger>
  </div>
</template>

<style scoped>
.wages {
  padding-left: 24px;
}
</style>
