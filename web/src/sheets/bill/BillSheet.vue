<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { answered, client } from '@/api/client'
import SheetHead from '@/parts/SheetHead.vue'
import { useScope } from '@/book/scope'
import InvoiceList from './InvoiceList.vue'
import ReadyList from './ReadyList.vue'

/** Bill: three lists in one sheet. */
const scope = useScope()
const { data, error, isLoading } = useQuery({
  queryKey: ['bill', scope.query],
  queryFn: () => answered(client.GET('/api/bill', { params: { query: scope.query.value } })),
})
const list = computed(() => ['drafts', 'issued'].find((l) => l === scope.text('list')) ?? 'ready')
/** Invoices have a When of their own: all dates, as long as none were chosen. */
function show(name: string) {
  const all = name === 'issued' && !scope.chosen.value ? { span: 'all' } : {}
  void scope.change({ list: name === 'ready' ? '' : name, open: '', ...all })
}
const counts = computed(() => ({
  ready: data.value?.ready?.length ?? 0,
  drafts: data.value?.drafts?.length ?? 0,
  issued: data.value?.issued?.length ?? 0,
}))
</script>

<template>
  <div class="sheet">
    <SheetHead title="Bill">
      <span class="words">
        <button v-for="(n, name) in counts" :key="name" :aria-pressed="list === name" @click="show(name)">
          {{ name }} {{ n }}
        </button>
      </span>
      <template #acts><span id="bill-acts" class="acts"></span></template>
    </SheetHead>
    <p v-if="error && !data" class="said empty" role="alert">{{ error.message }}</p>
    <p v-else-if="isLoading || !data" class="empty soft" role="status">Adding up what waits…</p>
    <ReadyList v-else-if="list === 'ready'" :bill="data" />
    <InvoiceList
      v-else
      :rows="(list === 'drafts' ? data.drafts : data.issued) ?? []"
      :totals="data.totals"
      :drafts="list === 'drafts'"
    />
  </div>
</template>
