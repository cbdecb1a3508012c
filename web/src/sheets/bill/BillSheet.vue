<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { answered, client } from '@/api/client'
import Await from '@/parts/Await.vue'
import SheetHead from '@/parts/SheetHead.vue'
import { useScope } from '@/book/scope'
import BankList from './BankList.vue'
import InvoiceList from './InvoiceList.vue'
import MessageList from './MessageList.vue'
import PaymentList from './PaymentList.vue'
import ReadyList from './ReadyList.vue'
import RecurringList from './RecurringList.vue'
import ValuesSheet from './ValuesSheet.vue'

/** Bill: what is ready, drafts, what is issued and what was paid, in one sheet. */
const scope = useScope()
const asked = useQuery({
  queryKey: ['bill', scope.query],
  queryFn: () => answered(client.GET('/api/bill', { params: { query: scope.query.value } })),
})
const { data } = asked
const list = computed(
  () =>
    ['drafts', 'issued', 'payments', 'bank', 'messages', 'recurring', 'values'].find((l) => l === scope.text('list')) ??
    'ready',
)
/** Invoices have a When of their own: all dates, as long as none were chosen. */
function show(name: string) {
  const all = ['issued', 'payments'].includes(name) && !scope.chosen.value ? { span: 'all' } : {}
  void scope.change({ list: name === 'ready' ? '' : name, open: '', ...all })
}
const titles = { ready: 'Ready', drafts: 'Drafts', issued: 'Issued' }
const counts = computed(() => ({
  ready: data.value && (data.value.ready?.length ?? 0),
  drafts: data.value && (data.value.drafts?.length ?? 0),
  issued: data.value && (data.value.issued?.length ?? 0),
}))
</script>

<template>
  <div class="sheet">
    <SheetHead title="Bill">
      <span class="words">
        <button v-for="(n, name) in counts" :key="name" :aria-pressed="list === name" @click="show(name)">
          {{ titles[name] }} {{ n }}
        </button>
        <button :aria-pressed="list === 'payments'" @click="show('payments')">Payments</button>
        <button :aria-pressed="list === 'bank'" @click="show('bank')">Bank</button>
        <button :aria-pressed="list === 'messages'" @click="show('messages')">Messages</button>
        <button :aria-pressed="list === 'recurring'" @click="show('recurring')">Recurring</button>
        <button v-if="list === 'values'" aria-pressed="true">Fixed price</button>
      </span>
      <template #acts><span id="bill-acts" class="acts"></span></template>
    </SheetHead>
    <PaymentList v-if="list === 'payments'" />
    <BankList v-else-if="list === 'bank'" />
    <MessageList v-else-if="list === 'messages'" />
    <RecurringList v-else-if="list === 'recurring'" />
    <ValuesSheet v-else-if="list === 'values'" />
    <Await v-else v-slot="{ data: bill }" :of="asked" what="what is to bill">
      <ReadyList v-if="list === 'ready'" :bill="bill" />
      <InvoiceList
        v-else
        :rows="(list === 'drafts' ? bill.drafts : bill.issued) ?? []"
        :totals="bill.totals"
        :drafts="list === 'drafts'"
      />
    </Await>
  </div>
</template>
