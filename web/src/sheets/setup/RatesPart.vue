<script setup lang="ts">
import { computed, reactive, ref, watch } from 'vue'
import { answered, client, type Schema } from '@/api/client'
import Amount from '@/parts/Amount.vue'
import Choose from '@/parts/Choose.vue'
import Field from '@/parts/Field.vue'
import Pick from '@/parts/Pick.vue'
import { longDay, percent } from '@/parts/figures'
import { useAdd } from './add'

/** The labour rows of the rate cards: what each row weighs, and what it charges by pay class. */
const props = defineProps<{ setup: Schema['SetupSheet']; choices: Schema['Choices']; adding: boolean; asOf: string }>()
const { busy, said, wrong, once } = useAdd()
const open = ref(props.adding || !props.setup.labourRates?.length)
watch(
  () => props.adding,
  (is) => is && (open.value = true),
)
const rate = reactive({
  card: '',
  trade: '',
  method: 'hourly' as Schema['NewLabourRate']['method'],
  value: '',
  overtimeFactor: '',
  doubleFactor: '',
  effectiveFrom: props.asOf,
})
const worker = ref<number>()
const code = ref<number>()
const workers = computed(() => (props.choices.workers ?? []).map((w) => ({ id: w.id, title: w.name, sub: w.sub })))
const codes = computed(() => (props.choices.costCodes ?? []).map((c) => ({ id: c.id, title: `${c.code} ${c.name}` })))
const companyCard = computed(
  () => props.choices.cards?.find((c) => c.id === props.choices.company.cardId)?.name ?? 'Company',
)
const methods = [
  ['hourly', 'a price an hour'],
  ['markup', '% on cost'],
] as const

async function save() {
  const row = { ...rate, workerId: worker.value ?? undefined, costCodeId: code.value ?? undefined }
  if (await once(row, (body) => answered(client.POST('/api/labour-rates', { body }))))
    Object.assign(rate, { trade: '', value: '' })
}
</script>

<template>
  <div class="scroll">
    <form v-if="open" class="form-row" aria-label="New rate" @submit.prevent="save">
      <Field
        v-model="rate.card"
        label="Card"
        :hint="companyCard"
        :said="wrong.card"
        :list="choices.cards?.map((c) => c.name)"
      />
      <Field
        v-model="rate.trade"
        label="Trade, blank for any"
        :said="wrong.trade"
        :list="choices.trades?.map((t) => t.name)"
      />
      <Pick v-model="worker" label="Worker, blank for any" :items="workers" :said="wrong.workerId" class="wide" />
      <Pick v-model="code" label="Cost code, blank for any" :items="codes" :said="wrong.costCodeId" class="wide" />
      <Choose v-model="rate.method" label="Charged as" :options="methods" />
      <Field
        v-model="rate.value"
        :label="rate.method === 'markup' ? 'Percent' : 'An hour'"
        num
        :said="wrong.value"
        class="short"
      />
      <Field
        v-model="rate.overtimeFactor"
        label="Overtime ×"
        hint="as paid"
        num
        :said="wrong.overtimeFactor"
        class="short"
      />
      <Field v-model="rate.effectiveFrom" label="from" type="date" :said="wrong.effectiveFrom" />
      <v-btn class="go" type="submit" :loading="busy">Add the rate</v-btn><v-btn @click="open = false">Close</v-btn>
      <span v-if="said" class="said" role="alert">{{ said }}</span>
    </form>
    <table class="ledger" aria-label="Labour rates">
      <colgroup>
        <col style="width: 150px" />
        <col />
        <col style="width: 200px" />
        <col style="width: 80px" />
        <col style="width: 110px" />
        <col style="width: 100px" />
        <col style="width: 100px" />
        <col style="width: 190px" />
      </colgroup>
      <thead>
        <tr>
          <th scope="col">Card</th>
          <th scope="col">Who or trade</th>
          <th scope="col">Cost code</th>
          <th scope="col" class="num" title="worker 4, cost code 2, trade 1: the highest decides">Weighs</th>
          <th scope="col" class="num money">An hour</th>
          <th scope="col" class="num">Overtime</th>
          <th scope="col" class="num">Double</th>
          <th scope="col">Since <v-btn v-if="!open" class="small go add" @click="open = true">New rate</v-btn></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="r in setup.labourRates" :key="r.id">
          <td>{{ r.card }}</td>
          <td>{{ r.worker || r.trade || '' }}<span v-if="!r.worker && !r.trade" class="soft">anyone</span></td>
          <td class="soft">{{ r.costCode || 'any' }}</td>
          <td class="num soft">{{ r.weight }}</td>
          <td class="num money">
            <template v-if="r.method === 'markup'">cost + {{ percent(r.value) }}</template
            ><Amount v-else :of="r.value" />
          </td>
          <td class="num"><Amount v-if="r.overtime" :of="r.overtime" /><span v-else class="soft">the same</span></td>
          <td class="num"><Amount v-if="r.double" :of="r.double" /><span v-else class="soft">the same</span></td>
          <td class="soft">{{ longDay(r.effectiveFrom) }}</td>
        </tr>
      </tbody>
    </table>
    <p v-if="!setup.labourRates?.length" class="empty soft">
      No rate yet: hours can't be billed until they have one. A row for a trade is a good start.
    </p>
    <p v-else class="key">
      The cards are asked in order: the job's, its customer's, the company's. The first with a row that fits decides; on
      it the heaviest row, and of its versions the latest.
    </p>
  </div>
</template>

<style scoped>
.add {
  position: absolute;
  right: 16px;
  top: 3px;
}
</style>
