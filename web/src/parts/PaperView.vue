<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { answered, client, type Schema } from '@/api/client'
import Await from '@/parts/Await.vue'
import Ledger from '@/parts/Ledger.vue'
import ScanView from '@/parts/ScanView.vue'
import { figure, longDay, inWords } from '@/parts/figures'
import type { Column } from '@/parts/ledger'

/** A paper to decide on: its lines, what they come to, and its scan. */
const props = defineProps<{ document: number }>()
const asked = useQuery({
  queryKey: ['costs', 'paper', () => props.document],
  queryFn: () => answered(client.GET('/api/costs/{id}', { params: { path: { id: props.document } } })),
})
const columns: Column<Schema['Line']>[] = [
  {
    id: 'what',
    label: 'Description, job',
    value: (l) => l.description || l.category,
    sub: (l) => (l.job ? `${l.job.code} ${l.job.name}` : 'no job'),
  },
  {
    id: 'quantity',
    label: 'Quantity',
    kind: 'number',
    width: 80,
    value: (l) => l.quantity,
    text: (l) => `${figure(l.quantity)} ${l.unit}`.trim(),
  },
  { id: 'each', label: 'Unit cost', kind: 'money', width: 74, value: (l) => l.unitCost },
  { id: 'landed', label: 'Landed', kind: 'money', width: 86, value: (l) => l.landed, rule: true, total: true },
  { id: 'charge', label: 'Charge', kind: 'money', width: 86, value: (l) => l.charge, total: true },
]
</script>

<template>
  <Await v-slot="{ data: paper }" :of="asked" what="the paper">
    <p class="about soft">
      {{ longDay(paper.date) }}<template v-if="paper.number">, {{ paper.number }}</template
      >, total
      {{ figure(paper.total) }}
      <router-link class="lnk" :to="{ path: '/costs', query: { open: String(document), span: 'all' } }"
        >Open in Costs</router-link
      >
    </p>
    <p v-for="w in paper.warnings" :key="w" class="warnword about"><i class="flag"></i>{{ inWords(w) }}</p>
    <Ledger
      name="paper-lines"
      label="Lines of the paper"
      of="line"
      bare
      flat
      :columns="columns"
      :rows="paper.lines ?? []"
      :row-key="(l) => l.id!"
    >
      <template #what="{ row }"
        ><span class="two"
          ><span>{{ row.description || row.category }}</span
          ><small v-if="row.job">{{ row.job.code }} {{ row.job.name }}</small
          ><small v-else class="warnword">no job</small></span
        ></template
      >
    </Ledger>
    <div class="scans">
      <ScanView v-for="s in paper.attachments" :key="s.id" :scan="s" />
      <p v-if="!paper.attachments?.length" class="soft">No scan is attached.</p>
    </div>
  </Await>
</template>

<style scoped>
.about {
  padding: 8px 16px;
}
.scans {
  padding: 14px 16px;
  display: grid;
  gap: 12px;
}
</style>
