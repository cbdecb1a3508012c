<script setup lang="ts">
import { ref } from 'vue'
import { answered, client, type Schema } from '@/api/client'
import { useForm } from '@/book/form'
import { useScope } from '@/book/scope'
import FormCard from '@/parts/FormCard.vue'
import FormField from '@/parts/FormField.vue'
import Ledger from '@/parts/Ledger.vue'
import { figure } from '@/parts/figures'
import type { Column } from '@/parts/ledger'

/** What customers hold back of jobs until the end, and its release on an invoice of its own. */
defineProps<{ rows: Schema['RetainedRow'][] }>()
const scope = useScope()
type Row = Schema['RetainedRow']
const opened = ref(0)
const columns: Column<Row>[] = [
  { id: 'job', label: 'Retainage held', value: (r) => `${r.job} ${r.name}`, sub: (r) => r.customer },
  { id: 'stage', label: 'Stage', width: 100, value: (r) => r.stage, tone: 'soft' },
  {
    id: 'percent',
    label: 'Percent',
    kind: 'number',
    width: 90,
    value: (r) => r.percent,
    text: (r) => `${figure(r.percent)} %`,
  },
  { id: 'billed', label: 'Billed to date', kind: 'money', width: 120, value: (r) => r.billed, total: true, rule: true },
  { id: 'held', label: 'Held', kind: 'money', width: 110, value: (r) => r.held, total: true, tone: 'strong' },
  { id: 'draft', label: 'On a draft', kind: 'money', width: 110, value: (r) => r.onDraft, total: true, tone: 'soft' },
  { id: 'acts', label: 'Next step', width: 110, value: () => '', acts: true },
]
const form = useForm({
  blank: () => ({ amount: '', date: scope.today.value }),
  change: 'everything',
  send: ({ amount, date, key }) =>
    answered(client.POST('/api/bill/release', { body: { key, date, jobs: [{ jobId: opened.value, amount }] } })),
  done: (view) => void scope.change({ list: 'drafts', open: String(view.id) }),
})
const why = (field: string) => form.wrong[`jobs[0].${field}`] ?? ''
function open(r: Row) {
  opened.value = opened.value === r.jobId ? 0 : r.jobId
  form.reset({ date: scope.today.value })
}
</script>

<template>
  <Ledger
    name="retained"
    label="Retainage held"
    of="job"
    :columns="columns"
    :rows="rows"
    :row-key="(r) => r.jobId"
    :row-name="(r) => `job ${r.job}`"
    :opened="opened"
    opens
    @open="open"
  >
    <template #tools
      ><h2 class="strong">Retainage held</h2>
      <span class="soft">billed, and held back until the end</span></template
    >
    <template #job="{ row }">
      <router-link :to="`/jobs/${row.job}`" class="two"
        ><span
          ><b class="strong">{{ row.job }}</b> {{ row.name }}</span
        ><small>{{ row.customer }}</small></router-link
      >
    </template>
    <template #acts="{ row }"
      ><button class="lnk" :aria-label="`Release retainage of job ${row.job}`" @click.stop="open(row)">
        Release
      </button></template
    >
    <template #below="{ row }">
      <FormCard
        :form="form"
        :label="`Release retainage of job ${row.job}`"
        submit="Make draft"
        cancel="Close"
        @cancel="opened = 0"
      >
        <FormField
          label="Amount"
          name="amount"
          kind="money"
          :wrong="why('amount') || why('jobId')"
          :hint="`all: ${figure(row.held)}`"
          focus
        />
        <FormField label="Dated" name="date" kind="date" />
      </FormCard>
    </template>
  </Ledger>
</template>
