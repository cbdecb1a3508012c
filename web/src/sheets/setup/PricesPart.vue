<script setup lang="ts">
import { useScope } from '@/book/scope'
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { answered, client, type Schema } from '@/api/client'
import { useForm } from '@/book/form'
import { useEdit } from '@/parts/edit'
import EditCard from '@/parts/EditCard.vue'
import Await from '@/parts/Await.vue'
import FormCard from '@/parts/FormCard.vue'
import FormField from '@/parts/FormField.vue'
import Ledger from '@/parts/Ledger.vue'
import { addressOf } from '@/parts/addresses'
import { figure, kindNames, longDay, percent } from '@/parts/figures'
import type { Column } from '@/parts/ledger'
import ItemPrices from './ItemPrices.vue'

/** What is bought and used again and again: what it costs and sells at, by date; mileage and plant have their rates here. */
const props = defineProps<{ adding: boolean; asOf: string }>()
const prices = useQuery({
  queryKey: ['prices', () => props.asOf],
  queryFn: () => answered(client.GET('/api/prices', { params: { query: { on: props.asOf } } })),
})
const kinds = ['material', 'equipment', 'mileage', 'subcontract', 'expense'].map((k) => [k, kindNames[k]!] as const)
const open = ref(props.adding)
const form = useForm({
  blank: () => ({
    code: '',
    description: '',
    category: 'material',
    unit: '',
    unitCost: '',
    sellPrice: '',
    effectiveFrom: props.asOf,
  }),
  keep: ['category', 'effectiveFrom'],
  change: 'prices',
  send: (body) => answered(client.POST('/api/prices', { body })),
})
type Item = Schema['PricedItem']
/** The item whose prices are open. */
const pricing = ref<number>()
const edit = useEdit({
  typed: (i: Item) => ({ description: i.description, unit: i.unit, active: i.active }),
  put: (i, body, query) => answered(client.PUT('/api/prices/{id}', { params: { path: { id: i.id }, query }, body })),
  remove: (i, body) => answered(client.POST('/api/prices/{id}/delete', { params: { path: { id: i.id } }, body })),
})
function change(i: Item) {
  pricing.value = undefined
  edit.open(i)
}
function price(i: Item) {
  edit.close()
  pricing.value = pricing.value === i.id ? undefined : i.id
}
const columns: Column<Item>[] = [
  { id: 'code', label: 'Code', width: 110, value: (i) => i.code },
  { id: 'description', label: 'Description', value: (i) => i.description },
  { id: 'category', label: 'Kind', width: 120, value: (i) => kindNames[i.category] },
  { id: 'unit', label: 'Unit', width: 60, value: (i) => i.unit },
  { id: 'cost', label: 'Unit cost', kind: 'money', width: 110, value: (i) => i.unitCost, rule: true },
  {
    id: 'since',
    label: 'Since',
    kind: 'date',
    width: 170,
    value: (i) => i.since,
    text: (i) => (i.since ? `${longDay(i.since)}${i.paid ? ', paid last' : ''}` : 'not yet at this date'),
    tone: 'soft',
  },
  {
    id: 'sell',
    label: 'Sells at',
    kind: 'money',
    width: 110,
    value: (i) => i.sellPrice,
    text: (i) => figure(i.sellPrice) || 'by markup',
  },
  {
    id: 'margin',
    label: 'Margin',
    kind: 'percent',
    width: 90,
    value: (i) => i.margin,
    tone: (i) => (i.belowCost ? 'warnword' : 'soft'),
  },
  { id: 'acts', label: 'Change', width: 190, value: () => '', acts: true },
]
const scope = useScope()
const units = computed(() => scope.choices.value?.units?.map((u) => u.name))
</script>

<template>
  <section class="listing">
    <FormCard v-if="open" :form="form" label="New item" submit="Add item" cancel="Close" @cancel="open = false">
      <FormField label="Code" name="code" size="short" />
      <FormField label="Description" name="description" />
      <FormField label="Kind" name="category" kind="choice" :options="kinds" />
      <FormField label="Unit" name="unit" size="short" :list="units" />
      <FormField label="Unit cost" name="unitCost" kind="money" size="short" />
      <FormField label="Sells at" name="sellPrice" kind="money" hint="by markup" size="short" />
      <FormField label="From" name="effectiveFrom" kind="date" />
    </FormCard>
    <Await v-slot="{ data }" :of="prices" what="the price list">
      <Ledger
        name="prices"
        label="Price list"
        of="item"
        :columns="columns"
        :rows="data ?? []"
        :row-key="(i) => i.id"
        :find="scope.text('find')"
        :opened="pricing ?? edit.row.value?.id"
        :row-class="(i) => (i.active ? '' : 'retired')"
      >
        <template #tools><v-btn v-if="!open" class="small go" @click="open = true">New item</v-btn></template>
        <template #description="{ row }"
          ><router-link :to="addressOf({ kind: 'item', id: row.id })">{{ row.description }}</router-link></template
        >
        <template #category="{ row }"
          ><span :class="`kind-${row.category}`"><i class="swatch"></i>{{ kindNames[row.category] }}</span></template
        >
        <template #margin="{ row }"
          ><i v-if="row.belowCost" class="flag" title="sells below cost"></i>{{ percent(row.margin) }}</template
        >
        <template #acts="{ row }">
          <button class="lnk" @click="change(row)">Change</button>
          <button class="lnk second" @click="price(row)">Prices</button>
        </template>
        <template #below="{ row }">
          <ItemPrices v-if="pricing === row.id" :item="row" :as-of="asOf" @close="pricing = undefined" />
          <EditCard v-else :edit="edit" :now="row" :label="`Change ${row.code}`">
            <FormField label="Description" name="description" size="wide" />
            <FormField label="Unit" name="unit" size="short" :list="units" />
            <FormField label="Offered" name="active" kind="check" />
          </EditCard>
        </template>
        <template #empty>
          Nothing is on the list yet. What you add is offered while typing a paper: materials with what they usually
          cost and sell at, miles and plant with their rates by date.
        </template>
        <template #key
          ><p v-if="data?.length" class="key">
            What is bought follows what was paid last; mileage and plant keep the rates that stand here.
          </p></template
        >
      </Ledger>
    </Await>
  </section>
</template>

<style scoped>
.second {
  margin-left: 14px;
}
:deep(.retired > td) {
  color: var(--ink-soft);
  text-decoration: line-through;
}
:deep(.retired > td:last-child) {
  text-decoration: none;
}
</style>
