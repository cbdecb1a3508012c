<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watchEffect } from 'vue'
import { answered, client, type Schema } from '@/api/client'
import { useFooting } from '@/book/footing'
import { useScope } from '@/book/scope'
import { useSession } from '@/book/session'
import Await from '@/parts/Await.vue'
import HistoryList from '@/parts/HistoryList.vue'
import Ledger from '@/parts/Ledger.vue'
import { addressOf } from '@/parts/addresses'
import { capital, counted, figure, inWords, kindNames, longDay } from '@/parts/figures'
import type { Column } from '@/parts/ledger'
import CustomerAccount from './CustomerAccount.vue'
import MessageForm from '@/parts/MessageForm.vue'
import SentMessages from '@/parts/SentMessages.vue'

/** The page of a supplier, a customer, a worker or an item: what it is, what rests on it, what is newest of it, and its history. */
const props = defineProps<{ kind: Schema['Page']['kind']; id: string }>()
const scope = useScope()
const session = useSession()
const footing = useFooting()
/** A message with the customer's statement of account is in hand. */
const sending = ref(false)
const asked = useQuery({
  queryKey: ['page', () => props.kind, () => props.id],
  queryFn: () =>
    answered(client.GET('/api/pages/{kind}/{id}', { params: { path: { kind: props.kind, id: Number(props.id) } } })),
})
const kinds = {
  supplier: ['Supplier', 'suppliers', 'paper'],
  customer: ['Customer', 'customers', 'record'],
  worker: ['Worker', 'workers', 'week'],
  item: ['Price list', 'prices', 'purchase'],
} as const
const about = computed(() => kinds[props.kind])
type Row = Schema['Row']
type Rest = Schema['Rest']
const restKey = (r: Rest) => r.what
const rests: Column<Rest>[] = [
  { id: 'what', label: 'Records', value: (r) => counted(r.count, r.what) },
  { id: 'hours', label: 'Hours', kind: 'number', width: 74, value: (r) => r.hours },
  { id: 'amount', label: 'Amount', kind: 'money', width: 106, value: (r) => r.amount },
  { id: 'of', label: 'What it is', width: 82, value: (r) => r.of, tone: 'soft' },
  { id: 'last', label: 'Last', kind: 'date', width: 112, value: (r) => r.last },
]
const newest: Column<Row>[] = [
  { id: 'date', label: 'Date', kind: 'date', width: 116, value: (r) => r.date },
  { id: 'title', label: 'What', value: (r) => r.title },
  { id: 'detail', label: 'Detail', width: 170, value: (r) => r.detail, text: (r) => inWords(r.detail), tone: 'soft' },
  { id: 'amount', label: 'Amount', kind: 'money', width: 110, value: (r) => r.amount },
]
/** Kinds of cost are called as everywhere; dates are those of the person. */
const words = (text: string) => inWords(kindNames[text] ?? text)
watchEffect(() => {
  const p = asked.data.value
  if (p)
    footing.show(
      p.title,
      (p.rests ?? []).filter((r) => r.amount).map((r) => ({ label: capital(r.of!), value: r.amount ?? '' })),
    )
})
</script>

<template>
  <div class="sheet">
    <Await v-slot="{ data: page }" :of="asked" what="the page">
      <div class="head">
        <span class="blank"
          ><span class="label">{{ about[0] }}</span></span
        >
        <h1>{{ page.title }}<span v-if="page.retired" class="soft"> retired</span></h1>
        <v-btn
          v-if="page.account && session.can('bill')"
          class="change"
          :aria-expanded="sending"
          @click="sending = !sending"
          >Send statement</v-btn
        >
        <v-btn
          v-if="page.account"
          :class="{ change: !session.can('bill') }"
          :href="`/api/customers/${id}/statement`"
          target="_blank"
          >Statement of account</v-btn
        >
        <router-link
          v-if="session.can('setup')"
          class="lnk"
          :class="{ change: !page.account }"
          :to="{ path: '/setup', query: { ...scope.kept.value, part: about[1], find: page.title } }"
          >Change in Setup</router-link
        >
      </div>
      <div class="record" :class="{ writing: sending }">
        <CustomerAccount v-if="page.account" :account="page.account" />
        <div v-if="page.account && session.can('bill')" class="sending">
          <MessageForm v-if="sending" :customer="Number(id)" @done="sending = false" @close="sending = false" />
          <SentMessages v-else :customer="Number(id)" />
        </div>
        <div v-show="!sending" class="split page">
          <section class="about">
            <h2 v-if="page.facts?.length">What it is</h2>
            <dl>
              <div v-for="f in page.facts" :key="f.what">
                <dt class="soft">{{ inWords(f.what) }}</dt>
                <dd>{{ words(f.text) }}</dd>
              </div>
            </dl>
            <div class="rests">
              <Ledger
                name="page-rests"
                label="Where it is used"
                of="kind"
                bare
                :columns="rests"
                :rows="page.rests ?? []"
                :row-key="restKey"
              >
                <template #empty>It is not used yet, so it can be deleted in Setup.</template>
              </Ledger>
            </div>
            <h2>History</h2>
            <div class="told"><HistoryList :lines="page.history ?? []" /></div>
          </section>
          <section>
            <Ledger
              name="page-newest"
              :label="`Newest: ${about[2]}s`"
              :of="about[2]"
              :columns="newest"
              :rows="page.rows ?? []"
              :row-key="(r) => `${r.link.kind}${r.link.id}${r.date ?? ''}${r.title}${r.amount ?? ''}`"
            >
              <template #title="{ row }"
                ><router-link class="lnk" :to="addressOf(row.link)">{{ inWords(row.title) }}</router-link></template
              >
              <template #date="{ row }">{{ row.date ? longDay(row.date) : '' }}</template>
              <template #amount="{ row }">{{ figure(row.amount) }}</template>
              <template #empty>Nothing yet.</template>
            </Ledger>
          </section>
        </div>
      </div>
    </Await>
  </div>
</template>

<style scoped>
.sending {
  flex: none;
  padding: 0 22px;
}
.writing {
  overflow-y: auto;
}
.record {
  display: flex;
  flex-direction: column;
  min-height: 0;
}
.record > .page {
  flex: 1;
}
.page {
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
}
h1 {
  font-size: var(--t-lead);
  font-weight: 660;
}
.change {
  margin-left: auto;
}
h2 {
  font-size: 0.875rem;
  font-weight: 660;
  padding: 12px 16px 4px;
}
dl {
  padding: 0 16px 8px;
}
dl > div {
  display: grid;
  grid-template-columns: 9rem minmax(0, 1fr);
  gap: 12px;
  padding: 5px 0;
  border-bottom: 1px solid var(--rule);
}
dd {
  margin: 0;
  white-space: pre-line;
}
.about {
  display: block;
  overflow: auto;
}
.told {
  padding: 0 16px 16px;
}
</style>
