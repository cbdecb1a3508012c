<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, watchEffect } from 'vue'
import { answered, client } from '@/api/client'
import Amount from '@/parts/Amount.vue'
import SheetHead from '@/parts/SheetHead.vue'
import { counted, dayNumber, hours, longDay, weekday } from '@/parts/figures'
import { useFooting } from '@/book/footing'
import { useScope } from '@/book/scope'
import { useSession } from '@/book/session'
import CrewComb from './CrewComb.vue'
import LooseEnds from './LooseEnds.vue'

/** Today: loose ends with the step that settles each, the week as a comb, and what waits. */
const scope = useScope()
const footing = useFooting()
const session = useSession()
const { data, error, isLoading } = useQuery({
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
const { data: waiting } = useQuery({
  queryKey: ['approve', ofJob],
  queryFn: () => answered(client.GET('/api/approve', { params: { query: ofJob.value } })),
  enabled: () => session.can('approve'),
})
const { data: bills } = useQuery({
  queryKey: ['bill', ofJob],
  queryFn: () => answered(client.GET('/api/bill', { params: { query: ofJob.value } })),
  enabled: () => session.can('bill'),
})
const overdue = computed(() => bills.value?.issued?.filter((i) => i.daysLate > 0) ?? [])
const { data: totals } = useQuery({
  queryKey: ['footing', scope.query],
  queryFn: () => answered(client.GET('/api/footing', { params: { query: scope.query.value } })),
})
watchEffect(() => {
  const f = totals.value
  if (!f) return
  const figures = [{ label: 'Hours', value: f.hours }]
  if (f.cost !== undefined)
    figures.push(
      { label: 'Labour', value: f.labour ?? '' },
      { label: 'Other', value: f.other ?? '' },
      { label: 'Cost', value: f.cost },
      { label: 'Charge', value: f.charge ?? '' },
      { label: 'Margin', value: f.margin ? `${f.margin} %` : '' },
    )
  footing.show(`${scope.jobName.value}, ${scope.short.value}`, figures)
})
</script>

<template>
  <div class="sheet">
    <SheetHead title="Today" week-only />
    <p v-if="error && !data" class="said empty" role="alert">{{ error.message }}</p>
    <p v-else-if="isLoading || !data" class="empty soft" role="status">Looking round…</p>
    <div v-else class="split pair">
      <section>
        <LooseEnds :ends="data.looseEnds ?? []" :asides="data.asides ?? []" />
        <template v-if="overdue.length">
          <div class="title-row">
            <h2>Overdue</h2>
            <span class="soft">{{ counted(overdue.length, 'invoice') }}</span><span class="end"
              ><Amount :of="bills?.totals.overdue"
            /></span>
          </div>
          <table class="ledger" aria-label="Overdue">
            <colgroup>
              <col />
              <col style="width: 70px" />
              <col style="width: 110px" />
            </colgroup>
            <tbody>
              <tr v-for="o in overdue" :key="o.id">
                <td>
                  <router-link :to="`/bill?list=issued&span=all&open=${o.id}`" class="two"
                    ><span>{{ o.number }} {{ o.customer }}</span
                    ><small>due {{ longDay(o.due) }}</small></router-link
                  >
                </td>
                <td class="num">{{ o.daysLate }} d</td>
                <td class="num money"><Amount :of="o.balance" /></td>
              </tr>
            </tbody>
          </table>
        </template>
        <div class="ruled"></div>
      </section>
      <section>
        <div class="title-row">
          <h2>The week</h2>
          <span class="soft wide-only">a tooth a worker, the line is the usual day, above it overtime</span
          ><span class="end">{{ hours(data.hours) }} h</span>
        </div>
        <table class="ledger comb" aria-label="The week by crew">
          <colgroup>
            <col style="width: 104px" />
            <col v-for="d in 7" :key="d" />
            <col style="width: 66px" />
          </colgroup>
          <thead>
            <tr>
              <th scope="col">Crew</th>
              <th v-for="d in data.days" :key="d" scope="col">{{ weekday(d) }} {{ dayNumber(d) }}</th>
              <th scope="col" class="num">Hours</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="c in data.week" :key="c.crew">
              <td>
                <router-link :to="{ path: '/time', query: { ...scope.kept.value, crew: c.crew } }" class="two"
                  ><span class="strong">{{ c.crew }}</span
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
        <p v-if="!data.week?.length" class="empty soft">
          Nobody is in a crew yet, and no hours are in this week.
          <router-link class="lnk" to="/time">Type the first hours</router-link>
        </p>
        <template v-if="waiting?.weeks?.length || waiting?.papers?.length">
          <div class="title-row">
            <h2>Waiting for approval</h2>
            <span class="end"><Amount :of="waiting.cost" /></span>
          </div>
          <table class="ledger" aria-label="Waiting for approval">
            <colgroup>
              <col />
              <col style="width: 128px" />
              <col style="width: 80px" />
              <col style="width: 110px" />
            </colgroup>
            <tbody>
              <tr v-for="w in waiting.weeks?.slice(0, most)" :key="`${w.workerId}${w.week}`">
                <td>
                  <router-link :to="{ path: '/approve', query: { from: w.week } }"
                    >{{ w.worker }}, {{ w.crew }}</router-link
                  >
                </td>
                <td class="mark">
                  <template v-if="w.marks?.length"><i class="flag"></i>{{ w.marks[0]!.what }}</template>
                </td>
                <td class="num">{{ hours(w.hours) }} h</td>
                <td class="num money"><Amount :of="w.cost" /></td>
              </tr>
              <tr v-for="p in waiting.papers?.slice(0, most)" :key="p.documentId">
                <td>
                  <router-link :to="{ path: '/approve', query: { span: 'all' } }"
                    >{{ p.title }}, {{ p.detail }}</router-link
                  >
                </td>
                <td class="mark">
                  <template v-if="p.marks?.length"><i class="flag"></i>{{ p.marks[0]!.what }}</template>
                </td>
                <td class="num">{{ counted(p.lines, 'line') }}</td>
                <td class="num money"><Amount :of="p.cost" /></td>
              </tr>
            </tbody>
          </table>
        </template>
        <template v-if="bills?.ready?.length">
          <div class="title-row">
            <h2>Ready to bill</h2>
            <span class="soft">{{ counted(bills.ready.length, 'job') }}</span><span class="end"
              ><Amount :of="bills.totals.ready"
            /></span>
          </div>
          <table class="ledger" aria-label="Ready to bill">
            <colgroup>
              <col />
              <col style="width: 80px" />
              <col style="width: 110px" />
            </colgroup>
            <tbody>
              <tr v-for="r in bills.ready" :key="r.jobId">
                <td>
                  <router-link :to="{ path: '/bill', query: { job: r.job } }">{{ r.job }} {{ r.name }}</router-link>
                </td>
                <td class="num"><i v-if="r.late" class="flag"></i>{{ r.ageDays }} d</td>
                <td class="num money"><Amount :of="r.total" /></td>
              </tr>
            </tbody>
          </table>
        </template>
        <div class="ruled"></div>
      </section>
    </div>
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
    font-size: 11px;
  }
  .comb :is(td, th):last-child {
    padding-right: 16px;
  }
}
.comb td {
  height: 48px;
}
.comb td:not(:first-child, :last-child) {
  border-left: 1px solid var(--rule-faint);
  vertical-align: bottom;
}
.mark {
  color: var(--ochre-ink);
}
</style>
