<script setup lang="ts">
import { answered, client, type Schema } from '@/api/client'
import { useForm } from '@/book/form'
import EditCard from '@/parts/EditCard.vue'
import FormCard from '@/parts/FormCard.vue'
import FormField from '@/parts/FormField.vue'
import Ledger from '@/parts/Ledger.vue'
import { useEdit } from '@/parts/edit'
import { figure } from '@/parts/figures'
import type { Column } from '@/parts/ledger'

/** The prices of an item by date: the next one is added, a mistyped one corrected. */
const props = defineProps<{ item: Schema['PricedItem']; asOf: string }>()
const emit = defineEmits<{ close: [] }>()
const next = useForm({
  blank: () => ({
    unitCost: props.item.unitCost ?? '',
    sellPrice: props.item.sellPrice ?? '',
    effectiveFrom: props.asOf,
  }),
  change: 'prices',
  send: ({ key, ...body }) =>
    answered(
      client.POST('/api/prices/{id}/from', {
        params: { path: { id: props.item.id } },
        body: { ...body, priceKey: key },
      }),
    ),
  done: () => emit('close'),
})
type Row = Schema['PriceRow']
const edit = useEdit({
  typed: (p: Row) => ({ unitCost: p.unitCost, sellPrice: p.sellPrice ?? '', effectiveFrom: p.effectiveFrom }),
  put: (p, body, query) =>
    answered(client.PUT('/api/item-prices/{id}', { params: { path: { id: p.id }, query }, body })),
  remove: (p, body) => answered(client.POST('/api/item-prices/{id}/delete', { params: { path: { id: p.id } }, body })),
})
const columns: Column<Row>[] = [
  { id: 'from', label: 'From', kind: 'date', width: 150, value: (p) => p.effectiveFrom },
  { id: 'cost', label: 'Unit cost', kind: 'money', width: 110, value: (p) => p.unitCost },
  {
    id: 'sell',
    label: 'Sells at',
    kind: 'money',
    width: 110,
    value: (p) => p.sellPrice,
    text: (p) => figure(p.sellPrice) || 'by markup',
  },
  { id: 'acts', label: 'Change', value: () => '', acts: true },
]
</script>

<template>
  <div class="prices">
    <FormCard
      :form="next"
      :label="`New price of ${item.code}`"
      submit="Save price"
      cancel="Cancel"
      @cancel="emit('close')"
    >
      <FormField label="Unit cost" name="unitCost" kind="money" size="short" />
      <FormField label="Sells at" name="sellPrice" kind="money" hint="by markup" size="short" />
      <FormField label="From" name="effectiveFrom" kind="date" />
      <template #after><span class="soft">Papers entered before keep their prices.</span></template>
    </FormCard>
    <Ledger
      name="item-prices"
      :label="`Prices of ${item.code}`"
      of="price"
      bare
      :columns="columns"
      :rows="item.prices ?? []"
      :row-key="(p) => p.id"
      :opened="edit.row.value?.id"
    >
      <template #acts="{ row }"><button class="lnk" @click="edit.open(row)">Correct</button></template>
      <template #below="{ row }">
        <EditCard :edit="edit" :now="row" :label="`Correct a price of ${item.code}`">
          <FormField label="Unit cost" name="unitCost" kind="money" size="short" />
          <FormField label="Sells at" name="sellPrice" kind="money" hint="by markup" size="short" />
          <FormField label="From" name="effectiveFrom" kind="date" />
        </EditCard>
      </template>
    </Ledger>
  </div>
</template>

<style scoped>
.prices {
  padding-left: 24px;
}
</style>
