<script setup lang="ts">
import { computed } from 'vue'
import { answered, client, type Schema } from '@/api/client'
import { unkeyed, useForm } from '@/book/form'
import FormCard from '@/parts/FormCard.vue'
import FormRows from '@/parts/FormRows.vue'
import { kindNames } from '@/parts/figures'
import type { RowField } from '@/parts/formRows'
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
const form = useForm({
  blank: () => {
    const rows = (props.plan.rows ?? []).map((r) => ({ ...blank(), ...r }))
    return { rows: rows.length ? rows : [blank('labour'), blank('material')] }
  },
  version: () => props.version,
  send: (body, version) => {
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
const fields = computed<RowField<Row>[]>(() => [
  {
    id: 'phaseId',
    label: 'Phase',
    kind: 'choice',
    number: true,
    options: [[0, 'none'], ...phases.value.map((p) => [p.id, `${p.sub} ${p.title}`] as const)],
  },
  { id: 'category', label: 'Kind of cost', kind: 'choice', options: Object.entries(kindNames) },
  {
    id: 'costCodeId',
    label: 'Cost code',
    kind: 'choice',
    number: true,
    options: [[0, 'any'], ...codes.value.map((c) => [c.id, c.title] as const)],
  },
  { id: 'hours', label: 'Hours', kind: 'figure', when: (r) => r.category === 'labour' },
  { id: 'cost', label: 'Budget', kind: 'figure' },
  {
    id: 'forecast',
    label: 'Forecast',
    kind: 'figure',
    title: 'what it will cost in the end, where you know better than the figures do',
  },
])
</script>

<template>
  <FormCard
    :form="form as never"
    :label="`Budget of job ${number}`"
    submit="Save budget"
    cancel="Cancel"
    @cancel="emit('close')"
  >
    <FormRows
      v-model="form.model.rows"
      :label="`Budget of job ${number}`"
      name="rows"
      :fields="fields"
      :blank="() => blank()"
      :wrong="form.wrong"
    />
    <template #after>
      <span class="soft">A forecast left blank is the larger of the budget and what it has cost so far.</span>
    </template>
  </FormCard>
</template>
