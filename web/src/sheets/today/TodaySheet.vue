<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { useMediaQuery } from '@vueuse/core'
import { computed, watchEffect } from 'vue'
import { answered, client, type Schema } from '@/api/client'
import Amount from '@/parts/Amount.vue'
import Await from '@/parts/Await.vue'
import Ledger from '@/parts/Ledger.vue'
import SheetHead from '@/parts/SheetHead.vue'
import { counted, dayNumber, hours, longDay, weekday } from '@/parts/figures'
import type { Column } from '@/parts/ledger'
import { useFooting } from '@/book/footing'
import { marginOf, useMoney } from '@/book/money'
import { useScope } from '@/book/scope'
import { useSession } from '@/book/session'
import CrewComb from './CrewComb.vue'
import LooseEnds from './LooseEnds.vue'

/** Today: loose ends with the step that settles each, the week as a comb, and what waits. */
const scope = useScope()
const footing = useFooting()
const session = useSession()
const asked = useQuery({
  queryKey: ['today', scope.week, scope.job],
  queryFn: () => {
    const query = { week: scope.week.value, job: scope.job.value }
    return answered(client.GET('/api/today', { params: { query } }))
  },
})
/** What waits is of all dates: it is the oldest that slips. */
const ofJob = computed(() => ({ job: scope.job.value }))
/** Today only leads to Approve: the first of what waits are enough. */
const most = 30
const askedWaiting = useQuery({
  queryKey: ['approve', ofJob],
  queryFn: () => answered(client.GET('/api/approve', { params: { query: ofJob.value } })),
  enabled: () => session.can('approve'),
})
const askedBills = useQuery({
  queryKey: ['bill', ofJob],
  queryFn: () => answered(client.GET('/api/bill', { params: { query: ofJob.value } })),
  enabled: () => session.can('bill'),
})
const waiting = askedWaiting.data
const bills = askedBills.data
const overdue = computed(() => bills.value?.issued?.filter((i) => i.daysLate > 0) ?? [])
const phone = useMediaQuery('(max-width: 720px)')
const money = useMoney(scope)
watchEffect(() => {
  const f = money.sums.value
  if (!f) return
  if (phone.value) {
    const one = (label: string, value?: string) => ({ label, value: value ?? '' })
    return footing.show('', [
      one('Ready to bill', bills.value?.totals.ready),
      one('Not approved', waiting.value?.cost),
      marginOf(f),
    ])
  }
  footing.show(`${scope.jobName.value}, ${scope.short.value}`, money.figures.value)
})
type Invoice = Schema['DraftRow']
const late: Column<Invoice>[] = [
  { id: 'invoice', label: 'Invoice', value: (o) => `${o.number} ${o.customer}`, sub: (o) => `due ${longDay(o.due)}` },
  {
    id: 'days',
    label: 'Days late',
    kind: 'number',
    width: 80,
    value: (o) => o.daysLate,
    text: (o) => counted(o.daysLate, 'day'),
  },
  { id: 'balance', label: 'Balance', kind: 'money', width: 110, value: (o) => o.balance, rule: true },
]
/** A week or a paper that is not approved. */
interface Waits {
  key: string
  title: string
  to: object
  mark?: string
  much: string
  cost?: string
}
const waits = computed<Waits[]>(() => [
  ...(waiting.value?.weeks ?? []).slice(0, most).map((w) => ({
    key: `${w.workerId} ${w.week}`,
    title: `${w.worker}, ${w.crew}`,
    to: { path: '/approve', query: { from: w.week } },
    mark: w.marks?.[0]?.what,
    much: `${hours(w.hours)} h`,
    cost: w.cost,
  })),
  ...(waiting.value?.papers ?? []).slice(0, most).map((p) => ({
    key: `paper ${p.documentId}`,
    title: `${p.title}, ${p.detail}`,
    to: { path: '/approve', query: { span: 'all' } },
    mark: p.marks?.[0]?.what,
    much: counted(p.lines, 'line'),
    cost: p.cost,
  })),
])
const waitColumns: Column<Waits>[] = [
  { id: 'what', label: 'Worker or paper', value: (w) => w.title },
  { id: 'mark', label: 'What stands out', width: 150, hideBelow: 721, value: (w) => w.mark },
  { id: 'much', label: 'Hours or lines', width: 80, hideBelow: 721, value: (w) => w.much },
  { id: 'cost', label: 'Cost', kind: 'money', width: 110, value: (w) => w.cost, rule: true },
]
const ready: Column<Schema['ReadyRow']>[] = [
  { id: 'job', label: 'Job', value: (r) => `${r.job} ${r.name}` },
  {
    id: 'age',
    label: 'Oldest',
    kind: 'number',
    width: 80,
    value: (r) => r.ageDays,
    text: (r) => counted(r.ageDays, 'day'),
  },
  { id: 'total', label: 'Ready', kind: 'money', width: 110, value: (r) => r.total, rule: true },
]
</script>

<template>
  <div class="sheet">
    <SheetHead title="Today" week-only />
    <Await v-slot="{ data: today }" :of="asked" what="today">
      <div class="split pair">
        <section>
          <LooseEnds :ends="today.looseEnds ?? []" :asides="today.asides ?? []" />
          <Await :of="askedBills" what="what is overdue" quiet />
          <div v-if="overdue.length" class="overdue">
            <div class="title-row">
              <h2>Overdue</h2>
              <span class="soft">{{ counted(overdue.length, 'invoice') }}</span><span class="end"
                ><Amount :of="bills?.totals.overdue"
              /></span>
            </div>
            <Ledger
              name="overdue"
              label="Overdue"
              of="invoice"
              bare
              flat
              headless
              :columns="late"
              :rows="overdue"
              :row-key="(o) => o.id"
            >
              <template #invoice="{ row }"
                ><router-link :to="`/bill?list=issued&span=all&open=${row.id}`" class="two"
                  ><span>{{ row.number }} {{ row.customer }}</span
                  ><small>due {{ longDay(row.due) }}</small></router-link
                ></template
              >
            </Ledger>
          </div>
          <div class="ruled"></div>
        </section>
        <section>
          <div class="title-row">
            <h2>The week</h2>
            <span class="soft wide-only">a bar a worker; the line is the usual day, above it overtime</span
            ><span class="end">{{ hours(today.hours) }} h</span>
          </div>
          <table class="ledger comb" aria-label="The week by crew">
            <colgroup>
              <col class="crews" />
              <col v-for="d in 7" :key="d" />
              <col class="hours" />
            </colgroup>
            <thead>
              <tr>
                <th scope="col">Crew</th>
                <th v-for="d in today.days" :key="d" scope="col">
                  {{ phone ? weekday(d) : `${weekday(d)} ${dayNumber(d)}` }}
                </th>
                <th scope="col" class="num">Hours</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="c in today.week" :key="c.crew">
                <td>
                  <router-link :to="{ path: '/time', query: { ...scope.kept.value, crew: c.crew } }" class="two"
                    ><span class="strong">{{ phone ? c.crew.replace(/ crew$/i, '') : c.crew }}</span
                    ><small>{{ c.state }}</small></router-link
                  >
                </td>
                <td v-for="(d, i) in c.days" :key="i">
                  <CrewComb v-if="d.hours" :day="d" :limit="scope.choices.value?.company.dailyLimit" />
                </td>
                <td class="num">{{ hours(c.hours) }}</td>
              </tr>
            </tbody>
          </table>
          <p v-if="!today.week?.length" class="empty soft">
            Nobody is in a crew yet, and no hours are in this week.
            <router-link class="lnk" to="/time">Type the first hours</router-link>
          </p>
          <Await :of="askedWaiting" what="what is not approved" quiet />
          <template v-if="waiting?.weeks?.length || waiting?.papers?.length">
            <div class="title-row">
              <h2>Not approved</h2>
              <span class="end"><Amount :of="waiting.cost" /></span>
            </div>
            <Ledger
              name="today-waiting"
              label="Waiting for approval"
              of="row"
              bare
              flat
              headless
              :columns="waitColumns"
              :rows="waits"
              :row-key="(w) => w.key"
            >
              <template #what="{ row }"
                ><router-link :to="row.to" :class="{ two: phone }"
                  ><span>{{ row.title }}</span
                  ><small v-if="phone" :class="{ warnword: row.mark }">{{
                    [row.much, row.mark].filter(Boolean).join(', ')
                  }}</small></router-link
                ></template
              >
              <template #mark="{ row }"
                ><span v-if="row.mark" class="mark"><i class="flag"></i>{{ row.mark }}</span></template
              >
            </Ledger>
          </template>
          <Await :of="askedBills" what="what is ready to bill" quiet />
          <template v-if="bills?.ready?.length">
            <div class="title-row">
              <h2>Ready to bill</h2>
              <span class="soft">{{ counted(bills.ready.length, 'job') }}</span><span class="end"
                ><Amount :of="bills.totals.ready"
              /></span>
            </div>
            <Ledger
              name="today-ready"
              label="Ready to bill"
              of="job"
              bare
              flat
              headless
              :columns="ready"
              :rows="bills.ready"
              :row-key="(r) => r.jobId"
            >
              <template #job="{ row }"
                ><router-link :to="{ path: '/bill', query: { job: row.job } }"
                  >{{ row.job }} {{ row.name }}</router-link
                ></template
              >
              <template #age="{ row }"><i v-if="row.late" class="flag"></i>{{ counted(row.ageDays, 'day') }}</template>
            </Ledger>
          </template>
          <div class="ruled"></div>
        </section>
      </div>
    </Await>
  </div>
</template>

<style scoped>
.pair {
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
}
@media (max-width: 1180px) {
  .pair {
    grid-template-columns: minmax(0, 13fr) minmax(0, 12fr);
  }
  .wide-only {
    display: none;
  }
  .comb :is(td, th):not(:first-child) {
    padding-inline: 3px;
  }
  .comb th {
    font-size: 0.6875rem;
  }
  .comb :is(td, th):last-child {
    padding-right: 16px;
  }
}
.crews {
  width: 6.5rem;
}
.hours {
  width: 4.125rem;
}
/* On a phone one column, its parts in the order of the morning. */
@media (max-width: 720px) {
  .pair {
    display: flex;
    flex-direction: column;
    overflow: auto;
  }
  .pair > section {
    display: contents;
  }
  .overdue {
    order: 1;
  }
  .ruled {
    display: none;
  }
  .comb .crews {
    width: 5.125rem;
  }
  .comb .hours {
    width: 3.625rem;
  }
  .comb td:not(:first-child, :last-child) {
    padding-inline: 2px;
  }
  .comb b {
    font-size: 0.6875rem;
  }
}
.comb td {
  height: 3rem;
}
.comb td:not(:first-child, :last-child) {
  border-left: 1px solid var(--rule-faint);
  vertical-align: bottom;
}
.mark {
  color: var(--ochre-ink);
}
</style>
