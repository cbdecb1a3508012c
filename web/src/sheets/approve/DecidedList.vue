<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { ref } from 'vue'
import { answered, client, type Schema } from '@/api/client'
import { useAct } from '@/book/act'
import Await from '@/parts/Await.vue'
import Ledger from '@/parts/Ledger.vue'
import { moment, shortDay } from '@/parts/figures'
import type { Column } from '@/parts/ledger'
import ReturnForm from './ReturnForm.vue'

/** What was approved and returned last: who, when and why. What is approved and not on an invoice can be returned. */
const asked = useQuery({
  queryKey: ['approve', 'decided'],
  queryFn: () => answered(client.GET('/api/approve/decided')),
})
const { busy, said, act } = useAct('everything')
const returning = ref('')
const keyOf = (d: Schema['Decided']) => `${d.decision} ${d.title} ${d.week ?? d.document?.id}`
const returnable = (d: Schema['Decided']) => d.now === 'approved' && (!!d.document || !!d.entries?.length)

async function giveBack(d: Schema['Decided'], reason: string) {
  const body = { entries: d.entries ?? [], documents: d.document ? [d.document] : [], reason }
  if (await act(() => answered(client.POST('/api/return', { body })))) returning.value = ''
}
const now: Record<string, string> = { submitted: 'not approved', draft: 'not handed in' }
const columns: Column<Schema['Decided']>[] = [
  { id: 'at', label: 'When', width: 150, value: (d) => d.at, text: (d) => moment(d.at) },
  {
    id: 'who',
    label: 'Decision',
    width: 230,
    value: (d) => `${d.approved ? 'approved' : 'returned'} by ${d.who}`,
    sub: (d) => d.reason,
  },
  {
    id: 'what',
    label: 'Worker or paper',
    value: (d) => d.title,
    sub: (d) => d.detail + (d.week ? `, week of ${shortDay(d.week)}` : ''),
  },
  { id: 'hours', label: 'Hours', kind: 'hours', width: 80, value: (d) => d.hours },
  { id: 'cost', label: 'Cost', kind: 'money', width: 110, value: (d) => d.cost, rule: true },
  { id: 'now', label: 'Now', width: 130, value: (d) => now[d.now] ?? d.now, tone: 'soft' },
  { id: 'acts', label: 'Return', width: 90, value: () => '', acts: true },
]
</script>

<template>
  <Await v-slot="{ data }" :of="asked" what="what was decided">
    <Ledger
      name="decided"
      label="Decided"
      of="decision"
      :columns="columns"
      :rows="data ?? []"
      :row-key="keyOf"
      :opened="returning"
    >
      <template #acts="{ row }"
        ><button v-if="returnable(row)" class="lnk" @click="returning = returning === keyOf(row) ? '' : keyOf(row)">
          Return
        </button></template
      >
      <template #below="{ row }">
        <ReturnForm
          :busy="busy"
          :many="1"
          :reasons="['approved too soon', 'wrong job']"
          @back="giveBack(row, $event)"
          @leave="returning = ''"
        />
        <p class="said" role="alert">{{ said }}</p>
      </template>
      <template #empty>Nothing has been approved or returned yet.</template>
    </Ledger>
  </Await>
</template>
