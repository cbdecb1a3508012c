<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { answered, client, type Schema } from '@/api/client'
import Amount from './Amount.vue'
import RestsOn from './RestsOn.vue'
import { day, figure, percent, inWords } from './figures'
import { addressOf } from './addresses'

/** How an entry's cost and charge came about: its pay classes side by side, so that the tape cross-foots. */
const props = defineProps<{ entry: number }>()
type Step = Schema['Step']

const { data, error } = useQuery({
  queryKey: ['workings', () => props.entry],
  queryFn: () => answered(client.GET('/api/time/entries/{id}/workings', { params: { path: { id: props.entry } } })),
})
const columns = computed(() => (data.value?.labour.hours.steps ?? []).map((s) => s.column ?? ''))
const cells = (step: Step) => columns.value.map((c) => step.steps?.find((s) => s.column === c)?.result.text ?? '')
/** The row of a step that is not a leaf; where there are segments in one class only, one column says it all. */
const both = computed(() => columns.value.length > 1)
const left = computed(() => [
  ...columns.value.map((c) => data.value?.left?.find((s) => s.column === c)),
  data.value?.left?.find((s) => !s.column),
])
const margins = computed(() => [
  ...columns.value.map((c) => data.value?.margins?.find((s) => s.column === c)),
  data.value?.margins?.find((s) => !s.column),
])
const sources = computed(() =>
  [
    ...(data.value?.labour.charge?.operands ?? []),
    ...(data.value?.labour.cost?.steps ?? []).flatMap((s) =>
      (s.operands ?? []).map((o) => ({ ...o, label: s.label.replace(/ [\d.]+$/, '') })),
    ),
  ]
    .filter((o) => o.from)
    .map((o) => ({
      label: o.label,
      value: figure(o.value.text),
      link: addressOf({ kind: o.from!.kind }),
      text: `, ${o.from!.text}`,
    })),
)
</script>

<template>
  <p v-if="error" class="said" role="alert">{{ inWords(error.message) }}</p>
  <template v-else-if="data">
    <div class="of">
      <b>{{ data.worker }}, {{ day(data.date) }}</b>
      <div>{{ data.job }}</div>
      <div>{{ data.place }}</div>
      <div>{{ data.reading }}</div>
      <div v-if="data.missing" class="warnword">{{ data.missing }}</div>
    </div>
    <div class="tape">
      <table>
        <thead>
          <tr>
            <td></td>
            <td v-for="c in columns" :key="c">{{ c }}</td>
            <td v-if="both">both</td>
          </tr>
        </thead>
        <tbody>
          <tr>
            <th scope="row">Hours</th>
            <td v-for="(t, i) in cells(data.labour.hours)" :key="i">{{ figure(t) }}</td>
            <td v-if="both">{{ figure(data.labour.hours.result.text) }}</td>
          </tr>
          <template v-if="data.labour.cost">
            <tr v-for="step in data.labour.cost.steps" :key="step.label">
              <th scope="row">
                {{ step.label }}<small v-if="step.formula">{{ inWords(step.formula) }}</small
                ><small v-else>{{
                  step.steps
                    ?.map((s) => `× ${figure(s.operands?.find((o) => o.label === 'factor')?.value.text ?? '1')}`)
                    .join(', ')
                }}</small>
              </th>
              <td v-for="(t, i) in cells(step)" :key="i"><Amount :of="t" /></td>
              <td v-if="both"><Amount :of="step.result.text" /></td>
            </tr>
            <tr class="bar">
              <th scope="row">Cost</th>
              <td v-for="c in columns" :key="c"></td>
              <td :colspan="1" :class="{ lift: !both }"><Amount :of="data.labour.cost.result.text" /></td>
            </tr>
          </template>
          <tr v-if="data.labour.charge">
            <th scope="row">
              {{ data.labour.charge.label
              }}<small>{{
                data.labour.charge.steps
                  ?.map((s) => `× ${figure(s.operands?.find((o) => o.label === 'factor')?.value.text)}`)
                  .join(', ')
              }}</small>
            </th>
            <td v-for="(t, i) in cells(data.labour.charge)" :key="i"><Amount :of="t" /></td>
            <td v-if="both"><Amount :of="data.labour.charge.result.text" /></td>
          </tr>
          <tr v-if="data.left?.length" class="sum">
            <th scope="row">Gross profit</th>
            <td v-for="(s, i) in both ? left : left.slice(0, 1)" :key="i"><Amount :of="s?.result.text" /></td>
          </tr>
          <tr v-if="data.margins?.length">
            <th scope="row">Margin</th>
            <td v-for="(s, i) in both ? margins : margins.slice(0, 1)" :key="i">{{ percent(s?.result.text) }}</td>
          </tr>
        </tbody>
      </table>
    </div>
    <RestsOn :rests="sources" :history="data.history" />
  </template>
</template>
