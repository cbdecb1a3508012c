<script setup lang="ts">
import { computed } from 'vue'
import { answered, client, type Schema } from '@/api/client'
import { useForm } from '@/book/form'
import FormCard from '@/parts/FormCard.vue'
import FormField from '@/parts/FormField.vue'
import Ledger from '@/parts/Ledger.vue'
import { figure, kindNames } from '@/parts/figures'
import type { Column } from '@/parts/ledger'
import { useAdding } from './adding'
import { useEdit } from '@/parts/edit'
import EditCard from '@/parts/EditCard.vue'

/** Markups by kind of cost, each with the margin it leaves beside it. */
const props = defineProps<{ setup: Schema['SetupSheet']; choices: Schema['Choices']; adding: boolean; asOf: string }>()
const open = useAdding(
  () => props.adding,
  () => !props.setup.markups?.length,
)
const form = useForm({
  blank: () => ({ card: '', category: 'material', overCost: '', percent: '', on: 'landed', effectiveFrom: props.asOf }),
  keep: ['card', 'category', 'effectiveFrom'],
  send: (body) => answered(client.POST('/api/markups', { body })),
})
const kinds = ['material', 'equipment', 'subcontract', 'expense', 'mileage'].map((k) => [k, kindNames[k]!] as const)
/** What of a line a markup is put on; the rest is passed on at cost. */
const putOn: Record<string, string> = {
  landed: 'all that it costs',
  before_tax: 'goods and freight',
  goods: 'the goods alone',
}
const bases = Object.entries(putOn)
const companyCard = computed(
  () => props.choices.cards?.find((c) => c.id === props.choices.company.cardId)?.name ?? 'Company',
)
type Row = NonNullable<Schema['SetupSheet']['markups']>[number]
const edit = useEdit({
  typed: (m: Row) => ({
    card: m.card,
    category: m.category as Schema['NewMarkup']['category'],
    overCost: m.overCost,
    percent: m.percent,
    on: m.on,
    effectiveFrom: m.effectiveFrom,
  }),
  put: (m, body, query) => answered(client.PUT('/api/markups/{id}', { params: { path: { id: m.id }, query }, body })),
  remove: (m, body) => answered(client.POST('/api/markups/{id}/delete', { params: { path: { id: m.id } }, body })),
})
const columns: Column<Row>[] = [
  { id: 'card', label: 'Card', width: 190, value: (m) => m.card, tone: 'strong' },
  { id: 'category', label: 'Markup on', value: (m) => kindNames[m.category] },
  {
    id: 'overCost',
    label: 'Unit cost from',
    kind: 'money',
    width: 140,
    value: (m) => m.overCost,
    text: (m) => (Number(m.overCost) ? figure(m.overCost) : 'any'),
    tone: 'soft',
  },
  { id: 'percent', label: 'Markup', kind: 'percent', width: 110, value: (m) => m.percent, rule: true },
  { id: 'margin', label: 'Margin', kind: 'percent', width: 110, value: (m) => m.margin, tone: 'soft' },
  { id: 'on', label: 'Percent of', width: 190, value: (m) => putOn[m.on], tone: 'soft' },
  { id: 'since', label: 'Since', kind: 'date', width: 140, value: (m) => m.effectiveFrom, tone: 'soft' },
  { id: 'acts', label: 'Change', width: 90, value: () => '', acts: true },
]
</script>

<template>
  <section class="listing">
    <FormCard v-if="open" :form="form" label="New markup" submit="Add markup" cancel="Close" @cancel="open = false">
      <FormField label="Card" name="card" :hint="companyCard" :list="choices.cards?.map((c) => c.name)" />
      <FormField label="On" name="category" kind="choice" :options="kinds" />
      <FormField label="Unit cost from" name="overCost" kind="money" hint="any" />
      <FormField label="Markup" name="percent" kind="percent" unit="%" size="short" />
      <FormField label="Percent of" name="on" kind="choice" :options="bases" />
      <FormField label="From" name="effectiveFrom" kind="date" />
    </FormCard>
    <Ledger
      name="markups"
      label="Markups"
      of="markup"
      :columns="columns"
      :rows="setup.markups ?? []"
      :row-key="(m) => m.id"
      :opened="edit.row.value?.id"
    >
      <template #tools><v-btn v-if="!open" class="small go" @click="open = true">New markup</v-btn></template>
      <template #category="{ row }"
        ><span :class="`kind-${row.category}`"><i class="swatch"></i>{{ kindNames[row.category] }}</span></template
      >
      <template #acts="{ row }"><button class="lnk" @click="edit.open(row)">Change</button></template>
      <template #below="{ row }">
        <EditCard :edit="edit" :now="row" label="Change this markup">
          <FormField label="Card" name="card" :list="choices.cards?.map((c) => c.name)" />
          <FormField label="On" name="category" kind="choice" :options="kinds" />
          <FormField label="Unit cost from" name="overCost" kind="money" hint="any" />
          <FormField label="Markup" name="percent" kind="percent" unit="%" size="short" />
          <FormField label="Percent of" name="on" kind="choice" :options="bases" />
          <FormField label="From" name="effectiveFrom" kind="date" />
        </EditCard>
      </template>
      <template #empty>No markup yet: what is bought is charged at cost, and listed as a loose end.</template>
      <template #key
        ><p v-if="setup.markups?.length" class="key">
          Markup is on cost, margin is on price: margin = markup / (1 + markup).
        </p></template
      >
    </Ledger>
  </section>
</template>
