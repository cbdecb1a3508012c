<script setup lang="ts">
import { local } from '@/book/english'
import { useSession } from '@/book/session'
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { answered, client, type Schema } from '@/api/client'
import Await from '@/parts/Await.vue'
import SumTable from '@/parts/SumTable.vue'
import { difference, figure } from '@/parts/figures'
import CompanyForm from './CompanyForm.vue'

/** The company in its book: who it is, when its days and weeks begin, terms and numbers, overtime, holidays. */
defineProps<{ choices: Schema['Choices'] }>()
const asked = useQuery({ queryKey: ['setup', 'company'], queryFn: () => answered(client.GET('/api/company')) })
/** What the change that is being typed would alter, by worker. */
const altered = ref<Schema['Altered']>()
const rows = computed(() => {
  const of = altered.value?.byWorker ?? []
  return of.map((w, i) => ({
    what: w.worker,
    texts: [figure(w.hours), difference(w.cost), difference(w.charge)],
    sum: i === of.length - 1,
  }))
})
const session = useSession()
/** Reads the company as it is now; its English may be another one. */
async function again() {
  await session.read()
  return (await asked.refetch()).data
}
/** When a change of each applies. */
const applies = computed(() => [
  [local('name, address, bank, licence, logo'), 'on papers made from now on; issued ones keep theirs'],
  ['time zone', 'from now on: it moves no hours that are booked'],
  ['terms', 'on drafts made from now on'],
  ['invoice numbers', 'upwards, without a gap, none used twice'],
  ['overtime, holidays, week', 'on all that is not billed, at once'],
  ['tax on purchases', 'on all papers that are not billed, at once'],
  ['currency', 'for good'],
])
</script>

<template>
  <div class="split company">
    <section>
      <Await v-slot="{ data }" :of="asked" what="the company's settings">
        <CompanyForm :settings="data" :choices="choices" :again="again" @alters="altered = $event" />
      </Await>
    </section>
    <section class="applies" aria-labelledby="applies">
      <template v-if="rows.length">
        <h2>What it would alter</h2>
        <SumTable
          label="What it would alter, by worker"
          :heads="['Not billed yet', 'Hours', 'Cost', 'Charge']"
          :rows="rows"
        />
      </template>
      <h2 id="applies">When a change applies</h2>
      <dl>
        <div v-for="[what, when] in applies" :key="what">
          <dt class="soft">{{ what }}</dt>
          <dd>{{ when }}</dd>
        </div>
      </dl>
    </section>
  </div>
</template>

<style scoped>
.company {
  grid-template-columns: minmax(0, 1fr) minmax(0, 22rem);
}
.applies {
  padding: 14px 16px;
}
h2 {
  font-size: var(--t-head);
  font-weight: 680;
}
table + h2 {
  padding-top: 16px;
}
dl > div {
  display: grid;
  grid-template-columns: 8.5rem minmax(0, 1fr);
  gap: 12px;
  padding: 7px 0;
  border-bottom: 1px solid var(--rule);
}
dd {
  margin: 0;
}
</style>
