<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watchEffect } from 'vue'
import { answered, client, type Schema } from '@/api/client'
import { useAct } from '@/book/act'
import { useFooting } from '@/book/footing'
import { useScope } from '@/book/scope'
import Await from '@/parts/Await.vue'
import Ledger from '@/parts/Ledger.vue'
import SureButton from '@/parts/SureButton.vue'
import { counted, longDay } from '@/parts/figures'
import type { Column } from '@/parts/ledger'
import RecurringForm from './RecurringForm.vue'

/** Invoices that come again: when, for whom, and when the next one is made. */
const scope = useScope()
const queries = useQueryClient()
const { busy, said, act } = useAct('everything')
type Row = Schema['RecurringRow']
const key = ['bill', 'recurring']
const asked = useQuery({ queryKey: key, queryFn: () => answered(client.GET('/api/bill/recurring')) })
const opened = ref(0)
const adding = ref(false)
function show(rows: Row[]) {
  queries.setQueryData(key, rows)
  opened.value = 0
  adding.value = false
}
const due = computed(() => (asked.data.value ?? []).filter((r) => r.next && r.next <= scope.today.value))
const footing = useFooting()
watchEffect(() =>
  footing.show('Recurring', [
    { label: 'Going on', value: String((asked.data.value ?? []).filter((r) => r.next).length) },
    { label: 'Due', value: String(due.value.length) },
  ]),
)
async function make() {
  const rows = await act(() => answered(client.POST('/api/bill/recurring/make')))
  if (!rows) return
  show(rows)
  await scope.change({ list: 'drafts', open: '' })
}
const remove = (r: Row) =>
  act(() =>
    answered(
      client.POST('/api/bill/recurring/{id}/delete', { params: { path: { id: r.id } }, body: { version: r.version } }),
    ),
  )
const often = (r: Row) => (r.every === '1' ? `each ${r.step.slice(0, -1)}` : `every ${r.every} ${r.step}`)
const columns: Column<Row>[] = [
  { id: 'text', label: 'What it is for', value: (r) => r.text, sub: (r) => r.customer },
  {
    id: 'often',
    label: 'How often',
    width: 220,
    value: often,
    sub: (r) => `from ${longDay(r.first)}${r.until ? ` to ${longDay(r.until)}` : ''}`,
  },
  { id: 'amount', label: 'Each', kind: 'money', width: 110, value: (r) => r.amount, rule: true, tone: 'strong' },
  { id: 'next', label: 'Next', width: 130, value: (r) => (r.next ? longDay(r.next) : 'ended') },
  { id: 'made', label: 'Made', kind: 'number', width: 80, value: (r) => r.made },
  { id: 'acts', label: 'Change', width: 90, value: () => '', acts: true },
]
</script>

<template>
  <div class="listing">
    <Teleport defer to="#bill-acts">
      <span class="said" role="alert">{{ said }}</span>
      <v-btn :aria-expanded="adding" @click="adding = !adding">New recurring invoice</v-btn>
      <v-btn v-if="due.length" class="go" :loading="busy" @click="make">Make what is due</v-btn>
    </Teleport>
    <RecurringForm v-if="adding" :today="scope.today.value" @done="show" @close="adding = false" />
    <Await v-slot="{ data }" :of="asked" what="recurring invoices">
      <Ledger
        name="recurring"
        label="Recurring invoices"
        of="recurring invoice"
        :columns="columns"
        :rows="data ?? []"
        :row-key="(r) => r.id"
        :row-name="(r) => r.text"
        :opened="opened"
        opens
        @open="(r) => (opened = opened === r.id ? 0 : r.id)"
      >
        <template #acts="{ row }"
          ><button class="lnk" :aria-label="`Change ${row.text}`" @click.stop="opened = opened === row.id ? 0 : row.id">
            Change
          </button></template
        >
        <template #below="{ row }">
          <RecurringForm :row="row" :today="scope.today.value" @done="show" @close="opened = 0">
            <SureButton
              label="Delete"
              :sure="row.made ? `The ${counted(row.made, 'invoice')} it made stay.` : 'It has made none yet.'"
              :busy="busy"
              @sure="remove(row)"
            />
          </RecurringForm>
        </template>
        <template #empty>
          <h2>No recurring invoices</h2>
          <p>What a customer is charged again and again becomes a draft by itself on each of its dates.</p>
        </template>
      </Ledger>
    </Await>
  </div>
</template>
