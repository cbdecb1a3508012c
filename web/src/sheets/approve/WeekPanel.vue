<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { answered, client, type Schema } from '@/api/client'
import Await from '@/parts/Await.vue'
import Amount from '@/parts/Amount.vue'
import { dayNumber, figure, hours, moment, weekday } from '@/parts/figures'
import SumTable from '@/parts/SumTable.vue'
import { figureWidth, sized } from '@/parts/ledger'
import HoursBar from './HoursBar.vue'

/** A worker's week by day, each beside the rest of the crew and the usual day, and what the week is held against. */
const props = defineProps<{ week: Schema['WaitingWeek'] }>()
const asked = useQuery({
  queryKey: ['approve', 'week', () => props.week.workerId, () => props.week.week],
  queryFn: () =>
    answered(
      client.GET('/api/approve/week', { params: { query: { worker: props.week.workerId, week: props.week.week } } }),
    ),
})
const { data } = asked
/** Days without anything on them or against them are left out: most weeks have no Saturday. */
const days = computed(() => (data.value?.days ?? []).filter((d) => d.hours || d.marked || d.crew))
const entries = computed(() => days.value.reduce((n, d) => n + (d.entries?.length ?? 0), 0))
/** Money is never cut: its columns are as wide as the larger sum. */
const moneyWidth = computed(() => {
  const longest = Math.max(figure(data.value?.cost).length, figure(data.value?.charge).length)
  return sized(figureWidth(longest, '', 72))
})
const heldAgainst = (held: Schema['HeldRow'][]) =>
  held.map((h) => {
    const unit = h.isMoney ? '' : ' h'
    return { what: h.what, texts: [figure(h.usual) + unit, figure(h.this) + unit, h.beyond], warn: true }
  })
</script>

<template>
  <Await v-slot="{ data: found }" :of="asked" what="the week">
    <table class="ledger" aria-label="The week by day">
      <colgroup>
        <col style="width: 4rem" />
        <col />
        <col style="width: 5.75rem" />
        <col style="width: 3.125rem" />
        <col :style="moneyWidth" />
        <col :style="moneyWidth" class="spare" />
      </colgroup>
      <thead>
        <tr>
          <th scope="col">Day</th>
          <th scope="col">Job, phase, code, times</th>
          <th scope="col">By the crew</th>
          <th scope="col" class="num">Hours</th>
          <th scope="col" class="num money">Cost</th>
          <th scope="col" class="num spare">Charge</th>
        </tr>
      </thead>
      <tbody>
        <template v-for="d in days" :key="d.date">
          <tr v-if="!d.entries?.length" :class="{ hole: d.marked }">
            <td>{{ weekday(d.date) }} {{ dayNumber(d.date) }}</td>
            <td>
              <span v-if="d.marked" class="none">nothing handed in</span
              ><span v-else class="soft">{{ d.off ? 'off' : 'no hours' }}</span>
            </td>
            <td class="draw"><HoursBar :crew="d.crew" :usual="d.usual" /></td>
            <td class="num">0</td>
            <td class="num money"></td>
            <td class="spare"></td>
          </tr>
          <tr v-for="(e, i) in d.entries" :key="e.id" :class="{ marked: d.marked }">
            <td>{{ i === 0 ? `${weekday(d.date)} ${dayNumber(d.date)}` : '' }}</td>
            <td>
              <span class="two"
                ><span :title="e.note"
                  >{{ e.place }}<template v-if="e.status === 'draft'"> · not handed in</template></span
                ><small>{{ e.note ? `${e.detail}${e.detail ? ': ' : ''}${e.note}` : e.detail }}</small></span
              >
            </td>
            <td class="draw"><HoursBar v-if="i === 0" :hours="d.hours" :crew="d.crew" :usual="d.usual" /></td>
            <td class="num">
              {{ figure(e.hours)
              }}<sup v-if="e.overtime" class="over" :title="`${hours(e.overtime)} h of it overtime`">{{
                hours(e.overtime)
              }}</sup>
            </td>
            <td class="num money"><Amount :of="e.cost" /></td>
            <td class="num spare"><Amount :of="e.charge" /></td>
          </tr>
        </template>
      </tbody>
      <tfoot>
        <tr>
          <th scope="row" colspan="3">
            {{ entries }} {{ entries === 1 ? 'line' : 'lines'
            }}{{ found.overtime ? `, ${figure(found.overtime)} h of it overtime` : '' }}
          </th>
          <td class="num">{{ hours(found.hours) }}</td>
          <td class="num money"><Amount :of="found.cost" /></td>
          <td class="num spare"><Amount :of="found.charge" /></td>
        </tr>
      </tfoot>
    </table>
    <div v-if="found.held?.length" class="held">
      <h2>Compared with</h2>
      <SumTable label="Compared with" :heads="['What', 'usual', 'this']" :rows="heldAgainst(found.held)" />
    </div>
    <p v-if="found.handedIn" class="empty soft">
      Handed in by {{ found.handedIn }}, {{ moment(found.at!) }}.
      <router-link class="lnk" :to="{ path: '/time', query: { from: week.week, crew: week.crew } }"
        >Open the crew sheet</router-link
      >
    </p>
  </Await>
</template>

<style scoped>
.ledger :is(td, th) {
  padding-inline: 6px;
}
.ledger :is(td, th):first-child {
  padding-left: 16px;
}
@media (max-width: 1180px) {
  .spare {
    display: none;
  }
}
.hole td,
.marked td {
  background: var(--ochre-wash);
}
.none {
  border: 1.5px dashed var(--ochre-line);
  border-radius: 3px;
  padding: 2px 8px;
  color: var(--ochre-ink);
  font-weight: 560;
}
.over {
  color: var(--ochre-ink);
  font-size: var(--t-sub);
  padding-left: 2px;
}
.held {
  padding: 14px 16px 4px;
}
.held h2 {
  font-weight: 660;
  font-size: 0.875rem;
  padding-bottom: 5px;
}
</style>
