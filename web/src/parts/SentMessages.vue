<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { answered, client } from '@/api/client'
import Await from './Await.vue'
import { moment } from './figures'
import { outcome } from './messages'

/** What was sent of an invoice, or of a customer's account, and what became of it. */
const props = defineProps<{ invoice?: number; customer?: number }>()
const asked = useQuery({
  queryKey: ['messages', 'about', () => props.invoice, () => props.customer],
  queryFn: () =>
    answered(
      client.GET('/api/messages/about', { params: { query: { invoice: props.invoice, customer: props.customer } } }),
    ),
  refetchInterval: (q) => (q.state.data?.some((m) => ['queued', 'sending'].includes(m.status)) ? 1_000 : false),
})
</script>

<template>
  <Await v-slot="{ data }" :of="asked" what="what was sent" quiet>
    <div v-if="data?.length" class="sent" role="status">
      <p v-for="m in data" :key="m.id">
        <span :class="{ warnword: m.status === 'failed' }"
          >{{ m.what }} {{ outcome(m.status) }} {{ moment(m.at) }}</span
        >
        <span class="soft">to {{ m.to }}</span>
        <router-link class="lnk" :to="`/bill?list=messages&open=${m.id}`">See it</router-link>
      </p>
    </div>
  </Await>
</template>

<style scoped>
.sent {
  align-self: stretch;
  padding-top: 8px;
}
.sent p {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 10px;
  padding: 4px 0;
  border-bottom: 1px solid var(--rule);
}
.sent p > :last-child {
  margin-left: auto;
}
</style>
