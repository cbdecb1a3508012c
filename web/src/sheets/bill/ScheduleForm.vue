<script setup lang="ts">
import { computed } from 'vue'
import { answered, client, type Schema } from '@/api/client'
import { unkeyed, useForm } from '@/book/form'
import FormCard from '@/parts/FormCard.vue'
import FormRows from '@/parts/FormRows.vue'
import { figure, sumOf } from '@/parts/figures'
import type { RowField } from '@/parts/formRows'
import { readNumber } from '@/parts/reading'

/** The schedule of values of a job: its lines come to the contract. */
const props = defineProps<{ schedule: Schema['Schedule'] }>()
const emit = defineEmits<{ done: [schedule: Schema['Schedule']]; close: [] }>()
type Row = Schema['NewScheduleLine']
const blank = (): Row => ({ text: '', phase: '', amount: '' })
const form = useForm({
  blank: () => ({
    lines: props.schedule.placed
      ? (props.schedule.lines ?? []).map(({ id, text, phase, amount }): Row => ({
          id,
          text,
          phase: phase ?? '',
          amount,
        }))
      : [blank(), blank()],
  }),
  version: () => props.schedule.version,
  send: (body, version) =>
    answered(
      client.PUT('/api/jobs/{number}/schedule', {
        params: { path: { number: props.schedule.job } },
        body: { version, ...unkeyed(body) },
      }),
    ),
  done: (schedule) => emit('done', schedule),
})
const fields: RowField<Row>[] = [
  { id: 'text', label: 'Line' },
  { id: 'phase', label: 'Phase', width: 90, title: 'its code, where a fixed phase is billed' },
  { id: 'amount', label: 'Amount', kind: 'figure' },
]
const before = computed(() => (props.schedule.placed ? '0' : props.schedule.before))
const placed = computed(() =>
  sumOf([before.value, ...form.model.lines.map((l) => (readNumber(l.amount, 'en') === l.amount ? l.amount : '0'))]),
)
const left = computed(() => sumOf([props.schedule.contract, `-${placed.value}`.replace('--', '')]))
</script>

<template>
  <FormCard
    :form="form as never"
    :label="`Schedule of values of job ${schedule.job}`"
    submit="Save schedule"
    cancel="Cancel"
    @cancel="emit('close')"
  >
    <FormRows
      v-model="form.model.lines"
      label="Schedule of values"
      name="lines"
      :fields="fields"
      :blank="blank"
      :wrong="form.wrong"
    />
    <template #after>
      <span class="said" role="alert">{{ form.wrong.lines }}</span>
      <span v-if="Number(before)" class="soft"
        >{{ figure(before) }} was billed before; it becomes a line of its own.</span
      >
      <span :class="Number(left) ? 'warnword' : 'soft'"
        >{{ figure(placed) }} of {{ figure(schedule.contract) }} placed<template v-if="Number(left)"
          >, {{ figure(left) }} to place</template
        ></span
      >
    </template>
  </FormCard>
</template>
