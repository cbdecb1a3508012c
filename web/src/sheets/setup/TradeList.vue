<script setup lang="ts">
import { answered, client, type Schema } from '@/api/client'
import EditCard from '@/parts/EditCard.vue'
import FormField from '@/parts/FormField.vue'
import Ledger from '@/parts/Ledger.vue'
import { useEdit } from '@/parts/edit'
import type { Column } from '@/parts/ledger'

/** The trades that workers and rates have: renamed here, made where a worker or a rate is typed with a new one. */
defineProps<{ trades: Schema['TradeRow'][] }>()
type Row = Schema['TradeRow']
const edit = useEdit({
  typed: (t: Row) => ({ name: t.name, active: t.active }),
  put: (t, body, query) => answered(client.PUT('/api/trades/{id}', { params: { path: { id: t.id }, query }, body })),
  remove: (t, body) => answered(client.POST('/api/trades/{id}/delete', { params: { path: { id: t.id } }, body })),
})
const columns: Column<Row>[] = [
  { id: 'name', label: 'Trade', value: (t) => t.name, tone: 'strong' },
  { id: 'workers', label: 'Workers', kind: 'number', width: 100, value: (t) => t.workers },
  { id: 'acts', label: 'Change', width: 90, value: () => '', acts: true },
]
</script>

<template>
  <Ledger
    name="trades"
    label="Trades"
    of="trade"
    :columns="columns"
    :rows="trades"
    :row-key="(t) => t.id"
    :opened="edit.row.value?.id"
  >
    <template #name="{ row }">{{ row.name }}<span v-if="!row.active" class="soft"> retired</span></template>
    <template #acts="{ row }"><button class="lnk" @click="edit.open(row)">Change</button></template>
    <template #below="{ row }">
      <EditCard :edit="edit" :now="row" :label="`Change trade ${row.name}`">
        <FormField label="Name, on drafts too" name="name" size="wide" />
        <FormField label="Offered" name="active" kind="check" />
      </EditCard>
    </template>
    <template #empty>No trade yet. One is made with the first worker who has it.</template>
  </Ledger>
</template>
