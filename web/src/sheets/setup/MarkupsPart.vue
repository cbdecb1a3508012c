<script setup lang="ts">
import { computed, reactive, ref, watch } from 'vue'
import { answered, client, type Schema } from '@/api/client'
import Amount from '@/parts/Amount.vue'
import Choose from '@/parts/Choose.vue'
import Field from '@/parts/Field.vue'
import { kindNames, longDay, percent } from '@/parts/figures'
import { useAdd } from './add'

/** Markups by kind of cost, each with the margin it leaves beside it. */
const props = defineProps<{ setup: Schema['SetupSheet']; choices: Schema['Choices']; adding: boolean; asOf: string }>()
const { busy, said, wrong, once } = useAdd()
const open = ref(props.adding || !props.setup.markups?.length)
watch(
  () => props.adding,
  (is) => is && (open.value = true),
)
const markup = reactive({ card: '', category: 'material', overCost: '', percent: '', effectiveFrom: props.asOf })
const kinds = ['material', 'equipment', 'subcontract', 'expense', 'mileage'].map((k) => [k, kindNames[k]!] as const)
const companyCard = computed(
  () => props.choices.cards?.find((c) => c.id === props.choices.company.cardId)?.name ?? 'Company',
)

async function save() {
  if (await once({ ...markup }, (body) => answered(client.POST('/api/markups', { body }))))
    Object.assign(markup, { percent: '', overCost: '' })
}
</script>

<template>
  <div class="scroll">
    <form v-if="open" class="form-row" aria-label="New markup" @submit.prevent="save">
      <Field
        v-model="markup.card"
        label="Card"
        :hint="companyCard"
        :said="wrong.card"
        :list="choices.cards?.map((c) => c.name)"
      />
      <Choose v-model="markup.category" label="On" :options="kinds" :said="wrong.category" />
      <Field v-model="markup.overCost" label="Unit cost from" hint="any" num :said="wrong.overCost" />
      <Field v-model="markup.percent" label="Markup, %" num :said="wrong.percent" class="short" />
      <Field v-model="markup.effectiveFrom" label="from" type="date" :said="wrong.effectiveFrom" />
      <v-btn class="go" type="submit" :loading="busy">Add the markup</v-btn><v-btn @click="open = false">Close</v-btn>
      <span v-if="said" class="said" role="alert">{{ said }}</span>
    </form>
    <table class="ledger" aria-label="Markups">
      <colgroup>
        <col style="width: 170px" />
        <col style="width: 200px" />
        <col style="width: 140px" />
        <col style="width: 110px" />
        <col style="width: 110px" />
        <col />
      </colgroup>
      <thead>
        <tr>
          <th scope="col">Card</th>
          <th scope="col">Markup on</th>
          <th scope="col" class="num">Unit cost from</th>
          <th scope="col" class="num money">Markup</th>
          <th scope="col" class="num">Margin</th>
          <th scope="col">Since <v-btn v-if="!open" class="small go add" @click="open = true">New markup</v-btn></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="m in setup.markups" :key="m.id">
          <td>{{ m.card }}</td>
          <td :class="`kind-${m.category}`"><i class="swatch"></i>{{ kindNames[m.category] }}</td>
          <td class="num"><Amount v-if="Number(m.overCost)" :of="m.overCost" /><span v-else class="soft">any</span></td>
          <td class="num money">{{ percent(m.percent) }}</td>
          <td class="num soft">{{ percent(m.margin) }}</td>
          <td class="soft">{{ longDay(m.effectiveFrom) }}</td>
        </tr>
      </tbody>
    </table>
    <p v-if="!setup.markups?.length" class="empty soft">
      No markup yet: what is bought is charged at cost, and listed as a loose end.
    </p>
    <p v-else class="key">Markup is on cost, margin is on price: margin = markup / (1 + markup).</p>
  </div>
</template>

<style scoped>
.add {
  position: absolute;
  right: 16px;
  top: 3px;
}
</style>
