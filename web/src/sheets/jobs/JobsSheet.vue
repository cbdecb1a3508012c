<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watchEffect } from 'vue'
import { answered, client } from '@/api/client'
import Amount from '@/parts/Amount.vue'
import SheetHead from '@/parts/SheetHead.vue'
import { basisNames, counted, hours, percent } from '@/parts/figures'
import { useFooting } from '@/book/footing'
import { useScope } from '@/book/scope'
import { useSession } from '@/book/session'
import MoneyBar from './MoneyBar.vue'
import NewJob from './NewJob.vue'

const scope = useScope()
const footing = useFooting()
const session = useSession()
const closed = ref(false)
const { data, error, isLoading } = useQuery({
  queryKey: ['jobs', closed],
  queryFn: () => answered(client.GET('/api/jobs', { params: { query: { closed: closed.value } } })),
})
const stages = [
  ['live', 'Working'],
  ['finished', 'Finishing'],
  ['paused', 'Paused'],
  ['quoting', 'Not started'],
  ['closed', 'Closed'],
] as const
const groups = computed(() => {
  const jobs = (data.value?.jobs ?? []).filter((j) => !scope.job.value || j.number === scope.job.value)
  return stages
    .map(([status, title]) => ({ title, jobs: jobs.filter((j) => j.status === status) }))
    .filter((g) => g.jobs.length)
})
const adding = computed(() => scope.text('add') === 'yes')
watchEffect(() => {
  const t = data.value?.totals
  if (!t) return
  footing.show(`${counted(data.value?.jobs?.length ?? 0, 'job')}, to date`, [
    { label: 'Cost', value: t.cost },
    { label: 'Earned', value: t.earned },
    { label: 'Profit', value: t.profit },
    { label: 'Margin', value: t.margin ? `${t.margin} %` : '' },
    { label: 'Unbilled', value: t.unbilled },
    { label: 'Waits, cost', value: t.pending },
  ])
})
</script>

<template>
  <div class="sheet">
    <SheetHead title="Jobs" hide-when>
      <template #acts>
        <v-btn href="/api/reports/job-profit" download>Profit report</v-btn>
        <v-btn v-if="session.can('setup')" class="go" @click="scope.change({ add: adding ? '' : 'yes' })"
          >New job</v-btn
        >
      </template>
    </SheetHead>
    <div class="scroll">
      <NewJob v-if="adding && scope.choices.value" :choices="scope.choices.value" @done="scope.change({ add: '' })" />
      <p v-if="error && !data" class="said empty" role="alert">{{ error.message }}</p>
      <p v-else-if="isLoading" class="empty soft" role="status">Adding the jobs up…</p>
      <div v-else-if="!groups.length && !adding" class="empty">
        <h2>No jobs yet</h2>
        <p class="soft">A job has a number, a customer and how it is billed. Open the first with New job.</p>
      </div>
      <table v-else-if="groups.length" class="ledger" aria-label="Jobs">
        <colgroup>
          <col style="width: 250px" />
          <col style="width: 90px" />
          <col style="width: 96px" />
          <col />
          <col style="width: 100px" />
          <col style="width: 100px" />
          <col style="width: 96px" />
          <col style="width: 74px" />
          <col style="width: 100px" />
          <col style="width: 70px" />
        </colgroup>
        <thead>
          <tr>
            <th scope="col">Job, customer</th>
            <th scope="col">Basis</th>
            <th scope="col" class="num">Price</th>
            <th scope="col" class="scale" data-value="">
              <span v-for="t in data?.scale" :key="t.at" :style="{ left: `${t.at / 10}%` }">{{ t.text }}</span><span
                class="sr"
                >Cost and charge</span
              >
            </th>
            <th scope="col" class="num money">Cost</th>
            <th scope="col" class="num">Earned</th>
            <th scope="col" class="num">Profit</th>
            <th scope="col" class="num">Margin</th>
            <th scope="col" class="num money">Unbilled</th>
            <th scope="col" class="num">Oldest</th>
          </tr>
        </thead>
        <tbody>
          <template v-for="g in groups" :key="g.title">
            <tr class="group">
              <td colspan="10">
                {{ g.title }} <span class="soft">{{ g.jobs.length }}</span>
              </td>
            </tr>
            <tr v-for="j in g.jobs" :key="j.id">
              <td>
                <router-link :to="`/jobs/${j.number}`" class="two"
                  ><span
                    ><b class="strong">{{ j.number }}</b> {{ j.name }}</span
                  ><small>{{ j.customer || 'own' }}</small></router-link
                >
              </td>
              <td class="soft">{{ basisNames[j.basis] }}</td>
              <td class="num soft"><Amount :of="j.contract" /></td>
              <td class="bar">
                <MoneyBar
                  :cost="j.costBar"
                  :billed="j.billedBar"
                  :earned="j.earnedBar"
                  :label="`cost ${j.cost}, earned ${j.earned}`"
                />
              </td>
              <td class="num money"><Amount :of="j.cost" /></td>
              <td class="num"><Amount :of="j.earned" /></td>
              <td class="num"><Amount :of="j.profit" /></td>
              <td class="num" :class="{ neg: j.margin?.startsWith('-') }">{{ percent(j.margin) }}</td>
              <td class="num money"><Amount :of="j.unbilled" /></td>
              <td class="num">
                <template v-if="j.oldest"
                  ><i v-if="j.late" class="flag" title="longer than the limit"></i>{{ j.ageDays }} d</template
                >
              </td>
            </tr>
          </template>
        </tbody>
        <tfoot>
          <tr>
            <th scope="row">{{ counted(data?.jobs?.length ?? 0, 'job') }}</th>
            <td colspan="2" class="num">{{ hours(data?.hours) }} h</td>
            <td></td>
            <td class="num money"><Amount :of="data?.totals.cost" /></td>
            <td class="num"><Amount :of="data?.totals.earned" /></td>
            <td class="num"><Amount :of="data?.totals.profit" /></td>
            <td class="num">{{ percent(data?.totals.margin) }}</td>
            <td class="num money"><Amount :of="data?.totals.unbilled" /></td>
            <td></td>
          </tr>
        </tfoot>
      </table>
      <div class="key">
        <span><i class="cost"></i> cost</span><span><i class="billed"></i> billed</span
        ><span><i class="unbilled"></i> earned, not billed yet</span
        ><span><i class="beyond"></i> cost beyond what is earned</span>
        <button v-if="data?.closed || closed" class="lnk" @click="closed = !closed">
          {{ closed ? 'Hide closed jobs' : `${data?.closed} closed jobs are not shown, show them` }}
        </button>
      </div>
    </div>
  </div>
</template>

<style scoped>
.scale.scale {
  position: sticky;
  overflow: visible;
  padding: 0;
}
.scale span:not(.sr) {
  position: absolute;
  transform: translateX(-100%);
  top: 6px;
  padding-right: 2px;
}
.bar {
  padding: 0 !important;
  overflow: visible !important;
}
.key i {
  width: 26px;
  height: 11px;
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
</style>
