<script setup lang="ts">
import { local } from '@/book/english'
import { answered, client, type Schema } from '@/api/client'
import { unkeyed, useForm } from '@/book/form'
import FormCard from '@/parts/FormCard.vue'
import FormRows from '@/parts/FormRows.vue'
import type { RowField } from '@/parts/formRows'

/** The instalments that were agreed for a job: each an amount, a percentage or the rest, due on a date or when its milestone is reached. */
const props = defineProps<{ schedule: Schema['Schedule'] }>()
const emit = defineEmits<{ done: [schedule: Schema['Schedule']]; close: [] }>()
type Row = Schema['InstalmentRow']
const blank = (): Row => ({ id: 0, text: '', by: 'percent', value: '', due: '', reached: '' })
const form = useForm({
  blank: () => {
    const rows = (props.schedule.instalments ?? []).map(({ id, text, by, value, due, reached }): Row => ({
      ...blank(),
      id,
      text,
      by,
      value: value ?? '',
      due,
      reached,
    }))
    return { instalments: rows.length ? rows : [blank(), { ...blank(), by: 'rest' as const }] }
  },
  version: () => props.schedule.version,
  send: (body, version) =>
    answered(
      client.PUT('/api/jobs/{number}/instalments', {
        params: { path: { number: props.schedule.job } },
        body: { version, ...unkeyed(body) },
      }),
    ),
  done: (schedule) => emit('done', schedule),
})
const fields: RowField<Row>[] = [
  { id: 'text', label: 'What it is for' },
  {
    id: 'by',
    label: 'By',
    kind: 'choice',
    width: 150,
    options: [
      ['percent', 'percent of contract'],
      ['amount', 'amount'],
      ['rest', 'the rest'],
    ],
  },
  { id: 'value', label: 'How much', kind: 'figure', when: (r) => r.by !== 'rest' },
  { id: 'due', label: 'Due', kind: 'date', width: 150, title: 'blank: when its milestone is reached' },
  { id: 'reached', label: 'Reached', kind: 'date', width: 150 },
]
</script>

<template>
  <FormCard
    :form="form as never"
    :label="`${local('Instalments')} of job ${schedule.job}`"
    :submit="local('Save instalments')"
    cancel="Cancel"
    @cancel="emit('close')"
  >
    <FormRows
      v-model="form.model.instalments"
      :label="local('Instalments')"
      name="instalments"
      :fields="fields"
      :blank="blank"
      :wrong="form.wrong"
    />
    <template #after><span class="soft">Without a date it is due when its milestone is reached.</span></template>
  </FormCard>
</template>
