<script setup lang="ts">
import { computed } from 'vue'
import { answered, client, type Schema } from '@/api/client'
import { unkeyed, useForm } from '@/book/form'
import FigureInput from '@/parts/FigureInput.vue'
import FormCard from '@/parts/FormCard.vue'
import { kindNames } from '@/parts/figures'
import { usePlaces } from '@/parts/places'

/** The budget of a job, typed in a plain table: a row a kind of cost, of a phase and a cost code or of none. */
const props = defineProps<{ number: string; plan: Schema['Plan']; version: number; choices: Schema['Choices'] }>()
const emit = defineEmits<{ close: [] }>()
type Row = Schema['BudgetRow']
const blank = (category = 'labour'): Row => ({
  category,
  phaseId: 0,
  costCodeId: 0,
  hours: '',
  cost: '',
  forecast: '',
})
/** The job as it was when the form was opened: what another window saves since is refused, not overwritten. */
const version = props.version
const form = useForm({
  blank: () => {
    const rows = (props.plan.rows ?? []).map((r) => ({ ...blank(), ...r }))
    return { rows: rows.length ? rows : [blank('labour'), blank('material')] }
  },
  send: (body) => {
    const { rows } = unkeyed(body)
    return answered(
      client.PUT('/api/jobs/{number}/budget', {
        params: { path: { number: props.number } },
        body: {
          version,
          rows: rows.map((r) => ({
            ...r,
            phaseId: r.phaseId || undefined,
            costCodeId: r.costCodeId || undefined,
            hours: r.category === 'labour' ? r.hours : '',
          })),
        },
      }),
    )
  },
  done: () => emit('close'),
})
const job = computed(() => props.choices.jobs?.find((j) => j.number === props.number)?.id)
const places = usePlaces(() => props.choices)
const phases = computed(() => places.phases(job.value))
const codes = computed(() => places.codes.value)
const wrong = (i: number) =>
  ['category', 'phaseId', 'costCodeId', 'hours', 'cost', 'forecast']
    .map((field) => form.wrong[`rows[${i}].${field}`])
    .find(Boolean)
const figures = [
  ['hours', 'Hours'],
  ['cost', 'Budget'],
  ['forecast', 'Forecast'],
] as const
</script>

<template>
  <FormCard
    :form="form as never"
    :label="`Budget of job ${number}`"
    submit="Save budget"
    cancel="Cancel"
    @cancel="emit('close')"
  >
    <div class="rows">
      <table :aria-label="`Budget of job ${number}`">
        <thead>
          <tr>
            <th scope="col">Phase</th>
            <th scope="col">Kind of cost</th>
            <th scope="col">Cost code</th>
            <th scope="col" class="n">Hours</th>
            <th scope="col" class="n">Budget</th>
            <th scope="col" class="n" title="what it will cost in the end, where you know better than the figures do">
              Forecast
            </th>
            <th><span class="sr">Delete</span></th>
          </tr>
        </thead>
        <tbody>
          <template v-for="(r, i) in form.model.rows" :key="i">
            <tr>
              <td>
                <select v-model="r.phaseId" :aria-label="`Phase of row ${i + 1}`">
                  <option :value="0">none</option>
                  <option v-for="p in phases" :key="p.id" :value="p.id">{{ p.sub }} {{ p.title }}</option>
                </select>
              </td>
              <td>
                <select v-model="r.category" :aria-label="`Kind of cost of row ${i + 1}`">
                  <option v-for="(name, kind) in kindNames" :key="kind" :value="kind">{{ name }}</option>
                </select>
              </td>
              <td>
                <select v-model="r.costCodeId" :aria-label="`Cost code of row ${i + 1}`">
                  <option :value="0">any</option>
                  <option v-for="c in codes" :key="c.id" :value="c.id">{{ c.title }}</option>
                </select>
              </td>
              <td v-for="[field, label] in figures" :key="field" class="n">
                <FigureInput
                  v-if="field !== 'hours' || r.category === 'labour'"
                  v-model="r[field]"
                  :aria-label="`${label} of row ${i + 1}`"
                  :aria-invalid="!!form.wrong[`rows[${i}].${field}`]"
                  :aria-describedby="wrong(i) ? `budget-${i}-said` : undefined"
                />
              </td>
              <td>
                <button
                  type="button"
                  class="soft"
                  :aria-label="`Delete row ${i + 1}`"
                  title="Delete the row"
                  @click="form.model.rows.splice(i, 1)"
                >
                  ×
                </button>
              </td>
            </tr>
            <tr v-if="wrong(i)">
              <td :id="`budget-${i}-said`" colspan="7" class="said" role="alert">{{ wrong(i) }}</td>
            </tr>
          </template>
        </tbody>
      </table>
      <button type="button" class="lnk" @click="form.model.rows.push(blank())">Add a row</button>
    </div>
    <template #after>
      <span class="soft">A forecast left blank is the larger of the budget and what it has cost so far.</span>
    </template>
  </FormCard>
</template>

<style scoped>
.rows {
  flex-basis: 100%;
}
table {
  width: min(56rem, 100%);
  border-collapse: collapse;
  table-layout: fixed;
}
th {
  text-align: left;
  font-size: var(--t-small);
  font-weight: 400;
  color: var(--ink-soft);
}
.n {
  text-align: right;
  width: 7.5rem;
}
th:last-child {
  width: 1.75rem;
}
td {
  padding: 2px 12px 2px 0;
}
td > :is(select, input) {
  width: 100%;
  height: 1.625rem;
  border: 0;
  border-bottom: 1.5px solid var(--ink);
  background: none;
  color: var(--ink);
  font-size: 0.875rem;
  font-weight: 580;
}
td > input {
  text-align: right;
}
</style>
