<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watchEffect } from 'vue'
import { answered, client, type Schema } from '@/api/client'
import Await from '@/parts/Await.vue'
import Ledger from '@/parts/Ledger.vue'
import SheetHead from '@/parts/SheetHead.vue'
import { basisNames, counted, figure, percent } from '@/parts/figures'
import type { Column } from '@/parts/ledger'
import { useFooting } from '@/book/footing'
import { marginOf } from '@/book/money'
import { useScope } from '@/book/scope'
import { useSession } from '@/book/session'
import MoneyBar from './MoneyBar.vue'
import NewJob from './NewJob.vue'
import { stageNames } from './stages'

const scope = useScope()
const footing = useFooting()
const session = useSession()
const closed = ref(false)
const asked = useQuery({
  queryKey: ['jobs', closed],
  queryFn: () => answered(client.GET('/api/jobs', { params: { query: { closed: closed.value } } })),
})
const { data } = asked
type Row = Schema['JobRow']
const rows = computed<Row[]>(() => {
  const jobs = (data.value?.jobs ?? []).filter((j) => !scope.job.value || j.number === scope.job.value)
  const rank = Object.keys(stageNames)
  return [...jobs].sort((a, b) => rank.indexOf(a.status) - rank.indexOf(b.status))
})
const adding = computed(() => scope.text('add') === 'yes')
watchEffect(() => {
  const t = data.value?.totals
  if (!t) return
  footing.show(`${counted(data.value?.jobs?.length ?? 0, 'job')}, to date`, [
    { label: 'Cost', value: t.cost },
    { label: 'Earned', value: t.earned },
    { label: 'Gross profit', value: t.profit },
    marginOf(t),
    ...(Number(t.drafted) ? [{ label: 'Drafted', value: t.drafted }] : []),
    { label: 'Unbilled', value: t.unbilled },
    ...(Number(t.held) ? [{ label: 'Held', value: t.held }] : []),
    { label: 'Not approved, cost', value: t.pending },
  ])
})
/** A column that is there only where it says something. */
function some(id: 'drafted' | 'held' | 'provision', label: string, title: string): Column<Row>[] {
  const value = (j: Row) => (Number(j[id]) ? j[id] : '')
  return rows.value.some(value)
    ? [{ id, label, kind: 'money', width: 88, value, total: true, title, hideBelow: 1180 }]
    : []
}
const columns = computed<Column<Row>[]>(() => [
  {
    id: 'job',
    label: 'Job',
    width: 220,
    value: (j) => `${j.number} ${j.name}`,
    sub: (j) => `${j.customer || 'own'}, ${basisNames[j.basis]}`,
  },
  {
    id: 'contract',
    label: 'Contract, limit',
    kind: 'money',
    width: 96,
    value: (j) => j.contract,
    tone: 'soft',
  },
  {
    id: 'bar',
    label: 'Cost and charge',
    value: (j) => Number(j.cost),
    text: () => '',
  },
  { id: 'cost', label: 'Cost', kind: 'money', width: 96, value: (j) => j.cost, rule: true, total: true },
  { id: 'earned', label: 'Earned', kind: 'money', width: 96, value: (j) => j.earned, total: true },
  ...some('provision', 'Provision', 'the part of a loss foreseen that has not come yet'),
  { id: 'profit', label: 'Gross profit', kind: 'money', width: 96, value: (j) => j.profit, total: true },
  {
    id: 'margin',
    label: 'Margin',
    kind: 'percent',
    width: 92,
    value: (j) => j.margin,
    text: (j) => (j.unmeasured ? 'not measured' : percent(j.margin)),
    tone: (j) => (j.unmeasured ? 'soft' : ''),
  },
  { id: 'unbilled', label: 'Unbilled', kind: 'money', width: 96, value: (j) => j.unbilled, rule: true, total: true },
  ...some('drafted', 'Drafted', 'on drafts: earned, not issued yet'),
  ...some('held', 'Held', 'over the limit: not earned, billed when more is agreed'),
  {
    id: 'oldest',
    label: 'Oldest',
    kind: 'number',
    width: 84,
    value: (j) => (j.oldest ? j.ageDays : undefined),
    text: (j) => (j.oldest ? counted(j.ageDays ?? 0, 'day') : ''),
    hideBelow: 1180,
  },
])
</script>

<template>
  <div class="sheet">
    <SheetHead title="Jobs" hide-when>
      <template #acts>
        <v-btn href="/api/reports/job-profit" download>Profit report</v-btn>
        <v-btn
          href="/api/reports/wip"
          download
          title="contracts, earned and billed, and what is over-billed or under-billed"
          >Work in progress</v-btn
        >
        <v-btn v-if="session.can('setup')" class="go" @click="scope.change({ add: adding ? '' : 'yes' })"
          >New job</v-btn
        >
      </template>
    </SheetHead>
    <div class="listing">
      <NewJob v-if="adding && scope.choices.value" :choices="scope.choices.value" @done="scope.change({ add: '' })" />
      <Await v-slot="{ data: list }" :of="asked" what="the jobs">
        <Ledger
          name="jobs"
          label="Jobs"
          of="job"
          :columns="columns"
          :rows="rows"
          :row-key="(j) => j.id"
          :group-by="(j) => stageNames[j.status] ?? ''"
        >
          <template #head-bar
            ><span class="scale"
              ><span v-for="t in list.scale" :key="t.at" :style="{ left: `${t.at / 10}%` }">{{ t.text }}</span
              ><span class="sr">Cost and charge</span></span
            ></template
          >
          <template #job="{ row }"
            ><router-link :to="`/jobs/${row.number}`" class="two"
              ><span
                ><b class="strong">{{ row.number }}</b> {{ row.name }}</span
              ><small>{{ row.customer || 'own' }}, {{ basisNames[row.basis] }}</small></router-link
            ></template
          >
          <template #bar="{ row }"
            ><MoneyBar
              :cost="row.costBar"
              :billed="row.billedBar"
              :earned="row.earnedBar"
              :label="`cost ${figure(row.cost)}, earned ${figure(row.earned)}`"
          /></template>
          <template #oldest="{ row }"
            ><template v-if="row.oldest"
              ><i v-if="row.late" class="flag" title="longer than the limit"></i
              >{{ counted(row.ageDays ?? 0, 'day') }}</template
            ></template
          >
          <template #tools
            ><button v-if="list.closed || closed" class="lnk" @click="closed = !closed">
              {{ closed ? 'Hide closed jobs' : `Show ${counted(list.closed, 'closed job')}` }}
            </button></template
          >
          <template #empty>
            <h2>No jobs yet</h2>
            <p>A job has a number, a customer and how it is billed. Open the first with New job.</p>
          </template>
          <template #key
            ><div class="key">
              <span><i class="cost"></i> cost</span><span><i class="billed"></i> billed</span
              ><span><i class="unbilled"></i> earned, not billed yet</span
              ><span><i class="beyond"></i> cost beyond what is earned</span>
            </div></template
          >
        </Ledger>
      </Await>
    </div>
  </div>
</template>

<style scoped>
.scale {
  position: relative;
  display: block;
  height: 1.5rem;
}
.scale span:not(.sr) {
  position: absolute;
  transform: translateX(-100%);
  top: 6px;
  padding-right: 2px;
}
.key i {
  width: 1.625rem;
  height: 0.6875rem;
  border: 1.5px solid var(--ink);
}
.key .cost {
  background: var(--denim);
  border-color: var(--denim);
}
.key .unbilled {
  border-style: dashed;
}
.key .beyond {
  border-color: var(--rust);
  background: repeating-linear-gradient(135deg, var(--rust) 0 1.5px, transparent 1.5px 4px);
}
.key button {
  margin-left: auto;
}
@media (max-width: 1500px) {
  .scale span:nth-of-type(odd):not(.sr) {
    display: none;
  }
}
</style>
