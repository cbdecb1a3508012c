<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { answered, client, type Schema } from '@/api/client'
import { useUndo } from '@/book/undo'
import Await from '@/parts/Await.vue'
import Ledger from '@/parts/Ledger.vue'
import { counted, hours, moment, shortDay, sumOf } from '@/parts/figures'
import type { Column } from '@/parts/ledger'
import ReturnForm from './ReturnForm.vue'
import { useDecision } from './decision'

type Decided = Schema['Decided']

/** What was approved and returned last: who, when and why. What is approved and not on an invoice can be returned, one or several. */
const asked = useQuery({
  queryKey: ['approve', 'decided'],
  queryFn: () => answered(client.GET('/api/approve/decided')),
})
const undo = useUndo()
const { busy, said, decide } = useDecision()
const keyOf = (d: Decided) => `${d.decision} ${d.title} ${d.week ?? d.document?.id}`
const returnable = (d: Decided) => d.now === 'approved' && !d.again && (!!d.document || !!d.entries?.length)
const chosen = ref<(string | number)[]>([])
const picked = computed(() => asked.data.value?.filter((d) => returnable(d) && chosen.value.includes(keyOf(d))) ?? [])
/** The rows that are being returned: the one that is open, or those that are chosen. */
const returning = ref<Decided[]>([])

async function giveBack(reason: string) {
  const [first] = returning.value
  const body = {
    entries: returning.value.flatMap((d) => d.entries ?? []),
    documents: returning.value.flatMap((d) => d.document ?? []),
    reason,
  }
  const what = returning.value.length > 1 ? counted(returning.value.length, 'row') : first!.title
  if (!(await decide('/api/return', body, what))) return
  returning.value = []
  chosen.value = []
}
const reasons = ['approved too soon', 'wrong job']
const now: Record<string, string> = { submitted: 'not approved', draft: 'not handed in' }
const columns: Column<Decided>[] = [
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
      v-model:chosen="chosen"
      name="decided"
      label="Decided"
      of="decision"
      :columns="columns"
      :rows="data ?? []"
      :row-key="keyOf"
      :row-name="(d) => `${d.title}, ${d.detail}`"
      :opened="returning.length === 1 ? keyOf(returning[0]!) : ''"
      chooses
    >
      <template #tools>
        <v-btn v-if="picked.length > 1" class="small" @click="returning = picked"
          >Return {{ picked.length }}, {{ hours(sumOf(picked.map((d) => d.hours))) || 0 }} h</v-btn
        >
        <span v-if="chosen.length > picked.length" class="soft"
          >{{ chosen.length - picked.length }} of those chosen can’t be returned</span
        >
        <span class="soft" role="status">{{ undo.said }}</span>
      </template>
      <template v-if="returning.length > 1" #above>
        <ReturnForm :busy="busy" :many="returning.length" :reasons="reasons" @back="giveBack" @leave="returning = []" />
        <p class="said" role="alert">{{ said }}</p>
      </template>
      <template #acts="{ row }"
        ><button v-if="returnable(row)" class="lnk" @click="returning = returning[0] === row ? [] : [row]">
          Return
        </button></template
      >
      <template #below>
        <ReturnForm :busy="busy" :many="1" :reasons="reasons" @back="giveBack" @leave="returning = []" />
        <p class="said" role="alert">{{ said }}</p>
      </template>
      <template #empty>Nothing has been approved or returned yet.</template>
    </Ledger>
  </Await>
</template>
