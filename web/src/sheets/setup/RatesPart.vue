<script setup lang="ts">
import { local } from '@/book/english'
import { answered, client, type Schema } from '@/api/client'
import { useForm } from '@/book/form'
import FormCard from '@/parts/FormCard.vue'
import Ledger from '@/parts/Ledger.vue'
import { figure, percent } from '@/parts/figures'
import type { Column } from '@/parts/ledger'
import { useAdding } from './adding'
import { useEdit } from '@/parts/edit'
import EditCard from '@/parts/EditCard.vue'
import RateFields from './RateFields.vue'

/** The labour rows of the rate cards: what each row weighs, and what it charges by pay class. */
const props = defineProps<{ setup: Schema['SetupSheet']; choices: Schema['Choices']; adding: boolean; asOf: string }>()
const open = useAdding(
  () => props.adding,
  () => !props.setup.labourRates?.length,
)
const form = useForm({
  blank: () => ({
    card: '',
    trade: '',
    workerId: undefined as number | undefined,
    costCodeId: undefined as number | undefined,
    method: 'hourly' as Schema['NewLabourRate']['method'],
    value: '',
    overtimeFactor: '',
    doubleFactor: '',
    effectiveFrom: props.setup.noRateSince ?? props.asOf,
  }),
  keep: ['card', 'method', 'effectiveFrom'],
  send: (body) => answered(client.POST('/api/labour-rates', { body })),
})
type Row = NonNullable<Schema['SetupSheet']['labourRates']>[number]
const edit = useEdit({
  typed: (r: Row) => ({
    card: r.card,
    trade: r.trade ?? '',
    workerId: r.workerId,
    costCodeId: r.costCodeId,
    method: r.method as Schema['NewLabourRate']['method'],
    value: r.value,
    overtimeFactor: r.overtimeFactor ?? '',
    doubleFactor: r.doubleFactor ?? '',
    effectiveFrom: r.effectiveFrom,
  }),
  put: (r, body, query) =>
    answered(client.PUT('/api/labour-rates/{id}', { params: { path: { id: r.id }, query }, body })),
  remove: (r, body) => answered(client.POST('/api/labour-rates/{id}/delete', { params: { path: { id: r.id } }, body })),
})
const columns: Column<Row>[] = [
  { id: 'card', label: 'Card', width: 140, value: (r) => r.card, tone: 'strong' },
  { id: 'who', label: 'Worker or trade', value: (r) => r.worker || r.trade || 'anyone' },
  { id: 'code', label: 'Cost code', width: 150, value: (r) => r.costCode || 'any', tone: 'soft' },
  {
    id: 'weight',
    label: 'Weight',
    kind: 'number',
    width: 90,
    value: (r) => r.weight,
    tone: 'soft',
    hideBelow: 1100,
    title: 'worker 4, cost code 2, trade 1: the highest decides',
  },
  {
    id: 'value',
    label: 'Rate an hour',
    kind: 'money',
    width: 120,
    rule: true,
    value: (r) => r.value,
    text: (r) => (r.method === 'markup' ? `cost + ${percent(r.value)}` : figure(r.value)),
  },
  {
    id: 'overtime',
    label: 'Overtime',
    kind: 'money',
    width: 100,
    value: (r) => r.overtime,
    text: (r) => figure(r.overtime) || 'the same',
  },
  {
    id: 'double',
    label: 'Double',
    kind: 'money',
    width: 100,
    value: (r) => r.double,
    text: (r) => figure(r.double) || 'the same',
  },
  { id: 'since', label: 'Since', kind: 'date', width: 140, value: (r) => r.effectiveFrom, tone: 'soft' },
  { id: 'acts', label: 'Change', width: 90, value: () => '', acts: true },
]
</script>

<template>
  <section class="listing">
    <FormCard v-if="open" :form="form" label="New rate" submit="Add rate" cancel="Close" @cancel="open = false">
      <RateFields :choices="choices" />
    </FormCard>
    <Ledger
      name="rates"
      :label="local('Labour rates')"
      of="rate"
      :columns="columns"
      :rows="setup.labourRates ?? []"
      :row-key="(r) => r.id"
      :opened="edit.row.value?.id"
    >
      <template #tools><v-btn v-if="!open" class="small go" @click="open = true">New rate</v-btn></template>
      <template #acts="{ row }"><button class="lnk" @click="edit.open(row)">Change</button></template>
      <template #below="{ row }">
        <EditCard :edit="edit" :now="row" label="Change this rate">
          <RateFields :choices="choices" />
        </EditCard>
      </template>
      <template #empty
        >No rate yet: hours can't be billed until they have one. A row for a trade is a good start.</template
      >
      <template #key
        ><p v-if="setup.labourRates?.length" class="key">
          The cards are asked in order: the job's, its customer's, the company's. The first with a row that fits
          decides; on it the heaviest row, and of its versions the latest.
        </p></template
      >
    </Ledger>
  </section>
</template>
