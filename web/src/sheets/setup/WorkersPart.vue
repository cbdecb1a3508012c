<script setup lang="ts">
import { reactive, ref, watch } from 'vue'
import { answered, client, type Schema } from '@/api/client'
import Amount from '@/parts/Amount.vue'
import Choose from '@/parts/Choose.vue'
import Field from '@/parts/Field.vue'
import { longDay, percent } from '@/parts/figures'
import { useAdd } from './add'

/** Workers with what an hour of each costs and is charged at. */
const props = defineProps<{ setup: Schema['SetupSheet']; choices: Schema['Choices']; adding: boolean; asOf: string }>()
const { busy, said, wrong, once } = useAdd()
const open = ref(props.adding || !props.setup.workers?.length)
watch(
  () => props.adding,
  (is) => is && (open.value = true),
)
const blank = () => ({
  name: '',
  trade: '',
  crew: '',
  burdenClass: props.choices.burdenClasses?.[0]?.name ?? '',
  kind: 'employee' as Schema['NewWorker']['kind'],
  exempt: false,
  wage: '',
  wageFrom: props.asOf,
})
const worker = reactive(blank())
const wageOf = ref<number>()
const wage = reactive({ rate: '', effectiveFrom: props.asOf })

async function save() {
  if (!(await once({ ...worker }, (body) => answered(client.POST('/api/workers', { body }))))) return
  const { crew, burdenClass, wageFrom } = worker
  Object.assign(worker, blank(), { crew, burdenClass, wageFrom })
}
async function saveWage() {
  const raise = { workerId: wageOf.value!, ...wage }
  if (await once(raise, (body) => answered(client.POST('/api/wages', { body })))) wageOf.value = undefined
}
function change(w: Schema['WorkerRow']) {
  wageOf.value = w.id
  wage.rate = w.wage ?? ''
}
</script>

<template>
  <div class="scroll">
    <form v-if="open" class="form-row" aria-label="New worker" @submit.prevent="save">
      <Field v-model="worker.name" label="Name" :said="wrong.name" class="wide" />
      <Field v-model="worker.trade" label="Trade" :said="wrong.trade" :list="choices.trades?.map((t) => t.name)" />
      <Field v-model="worker.crew" label="Crew" :said="wrong.crew" :list="choices.crews ?? []" />
      <Field v-model="worker.wage" label="Wage an hour" num :said="wrong.wage" class="short" />
      <Field v-model="worker.wageFrom" label="from" type="date" :said="wrong.wageFrom" />
      <Field
        v-model="worker.burdenClass"
        label="Burden class"
        :said="wrong.burdenClass"
        :list="choices.burdenClasses?.map((c) => c.name)"
      />
      <Choose
        v-model="worker.kind"
        label="Kind"
        :options="[
          ['employee', 'employee'],
          ['hired', 'hired'],
        ]"
      />
      <v-btn class="go" type="submit" :loading="busy">Add the worker</v-btn>
      <v-btn @click="open = false">Close</v-btn>
      <span v-if="said" class="said" role="alert">{{ said }}</span>
    </form>
    <table class="ledger" aria-label="Workers">
      <colgroup>
        <col />
        <col style="width: 150px" />
        <col style="width: 130px" />
        <col style="width: 140px" />
        <col style="width: 90px" />
        <col style="width: 110px" />
        <col style="width: 100px" />
        <col style="width: 100px" />
        <col style="width: 80px" />
        <col style="width: 130px" />
      </colgroup>
      <thead>
        <tr>
          <th scope="col">Worker</th>
          <th scope="col">Trade</th>
          <th scope="col">Crew</th>
          <th scope="col">Burden class</th>
          <th scope="col" class="num money">Wage</th>
          <th scope="col">Since</th>
          <th scope="col" class="num">Burdened</th>
          <th scope="col" class="num">Charge</th>
          <th scope="col" class="num">Margin</th>
          <th scope="col"><v-btn v-if="!open" class="small go" @click="open = true">New worker</v-btn></th>
        </tr>
      </thead>
      <tbody>
        <template v-for="w in setup.workers" :key="w.id">
          <tr>
            <td class="strong">{{ w.name }}<span v-if="w.kind === 'hired'" class="soft"> hired</span></td>
            <td>{{ w.trade }}</td>
            <td>{{ w.crew }}</td>
            <td class="soft">{{ w.burdenClass || 'none' }}</td>
            <td class="num money"><Amount v-if="w.wage" :of="w.wage" /><span v-else class="warnword">no wage</span></td>
            <td class="soft">{{ w.since ? longDay(w.since) : '' }}</td>
            <td class="num">
              <router-link class="lnk" :to="`/setup?part=burden&worker=${w.id}`"
                ><Amount :of="w.burdened"
              /></router-link>
            </td>
            <td class="num"><Amount v-if="w.charge" :of="w.charge" /><span v-else class="warnword">no rate</span></td>
            <td class="num" :class="{ neg: w.margin?.startsWith('-') }">{{ percent(w.margin) }}</td>
            <td><button class="lnk" @click="change(w)">New wage</button></td>
          </tr>
          <tr v-if="wageOf === w.id">
            <td colspan="10" class="in-place">
              <form class="form-row" :aria-label="`New wage of ${w.name}`" @submit.prevent="saveWage">
                <Field v-model="wage.rate" :label="`${w.name} earns`" num :said="wrong.rate" />
                <Field v-model="wage.effectiveFrom" label="an hour from" type="date" :said="wrong.effectiveFrom" />
                <v-btn class="go" type="submit" :loading="busy">Save the wage</v-btn
                ><v-btn @click="wageOf = undefined">Leave it</v-btn>
                <span class="soft">What was worked before that day stays as it was.</span
                ><span v-if="said" class="said" role="alert">{{ said }}</span>
              </form>
            </td>
          </tr>
        </template>
      </tbody>
    </table>
    <p v-if="!setup.workers?.length" class="empty soft">
      Nobody works here yet. Name the first above: a name, a trade and a wage are enough.
    </p>
  </div>
</template>

<style scoped>
.in-place.in-place {
  padding: 0;
  height: auto;
}
</style>
