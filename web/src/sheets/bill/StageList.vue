<script setup lang="ts">
import { answered, client, type Schema } from '@/api/client'
import { useAct } from '@/book/act'
import { useScope } from '@/book/scope'
import Amount from '@/parts/Amount.vue'
import Ledger from '@/parts/Ledger.vue'
import ProgressBar from '@/parts/ProgressBar.vue'
import { figure, shortDay } from '@/parts/figures'
import type { Column } from '@/parts/ledger'

/** Jobs with a fixed price, and what of it comes next: an instalment that is due or waits for its milestone, or a percentage to type. */
type Stage = Schema['StageRow']
defineProps<{ rows: Stage[] }>()
const chosen = defineModel<(string | number)[]>({ required: true })
const scope = useScope()
const { busy, said, act } = useAct('everything')
const reach = (s: Stage) =>
  act(() =>
    answered(
      client.PUT('/api/instalments/{id}/reached', {
        params: { path: { id: s.instalment! } },
        body: { version: s.version, date: scope.today.value },
      }),
    ),
  )
const columns: Column<Stage>[] = [
  { id: 'job', label: 'Fixed price', value: (s) => `${s.job} ${s.name}`, sub: (s) => s.customer },
  { id: 'next', label: 'What comes next', value: (s) => s.next, sub: (s) => (s.due ? `due ${shortDay(s.due)}` : '') },
  {
    id: 'amount',
    label: 'Amount',
    kind: 'money',
    width: 104,
    value: (s) => s.amount,
    rule: true,
    tone: (s) => (s.ready ? 'strong' : 'soft'),
  },
  { id: 'step', label: 'Next step', width: 130, value: (s) => (s.ready ? 'ready' : ''), acts: true },
  { id: 'billed', label: 'Billed to date', kind: 'money', width: 110, value: (s) => s.billed, total: true, rule: true },
  { id: 'contract', label: 'Contract', kind: 'money', width: 110, value: (s) => s.contract, total: true },
  { id: 'bar', label: 'Billed of it', width: 140, value: (s) => s.done, hideBelow: 1100 },
]
</script>

<template>
  <Ledger
    v-model:chosen="chosen"
    name="stages"
    label="Fixed prices"
    of="job"
    :columns="columns"
    :rows="rows"
    :row-key="(s) => s.jobId"
    :row-name="(s) => `job ${s.job}`"
    chooses
  >
    <template #tools
      ><h2 class="strong">Fixed prices</h2>
      <span class="said" role="alert">{{ said }}</span>
      <span class="soft">{{
        rows.some((s) => s.ready) ? `${rows.filter((s) => s.ready).length} due` : 'none due'
      }}</span></template
    >
    <template #job="{ row }">
      <router-link :to="`/bill?list=values&job=${row.job}`" class="two"
        ><span
          ><b class="strong">{{ row.job }}</b> {{ row.name }}</span
        ><small v-if="row.onDraft" class="warnword"><Amount :of="row.onDraft" /> of it on a draft</small
        ><small v-else>{{ row.customer }}</small></router-link
      >
    </template>
    <template #step="{ row }">
      <span v-if="row.ready" class="strong">ready</span>
      <button
        v-else-if="row.instalment && !row.due"
        class="lnk"
        :disabled="busy"
        :aria-label="`Mark reached: ${row.next}`"
        @click="reach(row)"
      >
        Mark reached
      </button>
      <router-link v-else-if="!row.instalment" class="lnk" :to="`/bill?list=values&job=${row.job}`"
        >Type percent</router-link
      >
    </template>
    <template #bar="{ row }"
      ><span class="share"
        ><ProgressBar :before="row.billed" :now="row.onDraft ?? '0'" :all="row.contract" /><small class="soft"
          >{{ figure(row.done) }} %</small
        ></span
      ></template
    >
  </Ledger>
</template>

<style scoped>
.share {
  display: grid;
  grid-template-columns: 1fr auto;
  align-items: center;
  gap: 8px;
}
</style>
