<script setup lang="ts">
import { computed } from 'vue'
import type { Schema } from '@/api/client'
import { useForm } from '@/book/form'
import FormCard from '@/parts/FormCard.vue'
import FormField from '@/parts/FormField.vue'
import { counted, figure } from '@/parts/figures'
import type { useDraft } from './draft'
import type { DraftRow } from './parts'

/** Work of a draft that goes onto another draft of the customer, or onto one of its own. */
const props = defineProps<{ rows: DraftRow[]; others: Schema['DraftRow'][]; draft: ReturnType<typeof useDraft> }>()
const emit = defineEmits<{ done: []; close: [] }>()
const options = computed<[string, string][]>(() => [
  ['', 'a draft of its own'],
  ...props.others.map((o): [string, string] => [String(o.id), `${o.title}, ${figure(o.dueNow)}`]),
])
const form = useForm({
  blank: () => ({ to: '' }),
  change: 'invoices',
  send: ({ to }) => {
    const other = props.others.find((o) => String(o.id) === to)
    return props.draft.move(
      props.rows.map(({ kind, id }) => ({ kind, id })),
      other && { id: other.id, version: other.version },
    )
  },
  done: ({ view, send, back }) => {
    props.draft.did(view, { what: `moving ${counted(props.rows.length, 'source')}`, send, back })
    emit('done')
  },
})
</script>

<template>
  <FormCard
    :form="form"
    :label="`Move ${counted(rows.length, 'source')}`"
    submit="Move"
    cancel="Close"
    @cancel="emit('close')"
  >
    <FormField label="Onto" name="to" kind="choice" size="wide" :options="options" />
  </FormCard>
</template>
