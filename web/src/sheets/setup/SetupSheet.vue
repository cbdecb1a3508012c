<script setup lang="ts">
import { local } from '@/book/english'
import { useQuery } from '@tanstack/vue-query'
import { watchDebounced } from '@vueuse/core'
import { computed, defineAsyncComponent, ref, watch, watchEffect } from 'vue'
import { useRouter } from 'vue-router'
import { answered, client } from '@/api/client'
import { useFooting } from '@/book/footing'
import { useScope } from '@/book/scope'
import { percent } from '@/parts/figures'
import Await from '@/parts/Await.vue'
import DateField from '@/parts/DateField.vue'
import { setupParts } from '@/parts/addresses'
import CustomersPart from './CustomersPart.vue'
import MarkupsPart from './MarkupsPart.vue'
import RatesPart from './RatesPart.vue'
import WorkersPart from './WorkersPart.vue'

const BurdenPart = defineAsyncComponent(() => import('./BurdenPart.vue'))
const SuppliersPart = defineAsyncComponent(() => import('./SuppliersPart.vue'))
const PeoplePart = defineAsyncComponent(() => import('./PeoplePart.vue'))
const PricesPart = defineAsyncComponent(() => import('./PricesPart.vue'))
const CompanyPart = defineAsyncComponent(() => import('./CompanyPart.vue'))
const DataPart = defineAsyncComponent(() => import('./DataPart.vue'))
const CodesPart = defineAsyncComponent(() => import('./CodesPart.vue'))

/** Setup has Whose and As of instead of Where and When. */
const scope = useScope()
const router = useRouter()
const footing = useFooting()
const part = computed(() => setupParts.find(([name]) => name === scope.text('part'))?.[0] ?? 'workers')
const asOf = computed(() => scope.text('asOf') || scope.today.value)
/** The sheet follows a date once it is typed, and not each that it could be on the way there. */
const typedDate = ref('')
watch(asOf, (date) => (typedDate.value = date), { immediate: true })
watchDebounced(
  typedDate,
  (date) => {
    if (date !== asOf.value && /^\d{4}-\d\d-\d\d$/.test(date)) void scope.change({ asOf: date })
  },
  { debounce: 600 },
)
const worker = computed(() => Number(scope.text('worker')) || 0)
const code = computed(() => Number(scope.text('code')) || 0)
const adding = computed(() => scope.text('add') === 'yes')
const setup = useQuery({
  queryKey: ['setup', asOf, worker, code],
  queryFn: () =>
    answered(
      client.GET('/api/setup', {
        params: { query: { asOf: asOf.value, worker: worker.value, costCode: code.value } },
      }),
    ),
  enabled: () => !!scope.choices.value,
})
const { data } = setup
/** A part needs both what Setup has and what its fields choose from. */
const both = {
  ...setup,
  data: computed(() =>
    data.value && scope.choices.value ? { setup: data.value, choices: scope.choices.value } : undefined,
  ),
}
const go = (name: string) =>
  router.push({ path: '/setup', query: { ...scope.kept.value, part: name, asOf: scope.text('asOf') || undefined } })
watchEffect(() => {
  const d = data.value
  if (!d) return
  const b = d.build
  if (part.value === 'burden' && b)
    return footing.show(`${b.worker.name}, a regular hour`, [
      { label: 'Wage', value: b.wage.regular ?? '' },
      { label: 'Cost', value: b.total.regular ?? '' },
      { label: 'Charge', value: b.charge?.regular ?? '' },
      { label: 'Margin', value: percent(b.margins?.regular) },
    ])
  footing.show('Setup', [
    { label: 'Workers', value: String(d.workers?.filter((w) => w.active).length ?? 0) },
    { label: local('Labour rates'), value: String(d.labourRates?.length ?? 0) },
    { label: 'Markups', value: String(d.markups?.length ?? 0) },
    { label: 'Customers', value: String(d.customers?.length ?? 0) },
  ])
})
</script>

<template>
  <div class="sheet">
    <div class="head">
      <h1 class="sr">Setup</h1>
      <span class="blank">
        <label class="label" for="as-of">As of</label>
        <DateField id="as-of" v-model="typedDate" class="as-of" />
      </span>
      <span class="words end-words"
        ><button v-for="[name, text] in setupParts" :key="name" :aria-pressed="part === name" @click="go(name)">
          {{ text }}
        </button></span
      >
    </div>
    <Await v-slot="{ data: { setup: sheet, choices } }" :of="both" what="Setup">
      <WorkersPart v-if="part === 'workers'" :setup="sheet" :choices="choices" :adding="adding" :as-of="asOf" />
      <BurdenPart v-else-if="part === 'burden'" :setup="sheet" :choices="choices" :adding="adding" :as-of="asOf" />
      <RatesPart v-else-if="part === 'rates'" :setup="sheet" :choices="choices" :adding="adding" :as-of="asOf" />
      <MarkupsPart v-else-if="part === 'markups'" :setup="sheet" :choices="choices" :adding="adding" :as-of="asOf" />
      <CustomersPart v-else-if="part === 'customers'" :setup="sheet" :choices="choices" :adding="adding" />
      <PricesPart v-else-if="part === 'prices'" :adding="adding" :as-of="asOf" />
      <SuppliersPart v-else-if="part === 'suppliers'" :choices="choices" :adding="adding" />
      <PeoplePart v-else-if="part === 'people'" :choices="choices" />
      <CompanyPart v-else-if="part === 'company'" :choices="choices" />
      <DataPart v-else-if="part === 'data'" />
      <CodesPart v-else :setup="sheet" />
    </Await>
  </div>
</template>

<style scoped>
.end-words {
  margin-left: auto;
}
@media (max-width: 1180px) {
  .end-words {
    gap: 8px;
    font-size: var(--t-small);
  }
}
</style>
