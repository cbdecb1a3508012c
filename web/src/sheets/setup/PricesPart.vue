<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, reactive, ref } from 'vue'
import { answered, client, type Schema } from '@/api/client'
import Amount from '@/parts/Amount.vue'
import Choose from '@/parts/Choose.vue'
import Field from '@/parts/Field.vue'
import { counted, kindNames, longDay, percent } from '@/parts/figures'
import { useAdd } from './add'

/** What is bought and used again and again: what it costs and sells at, by date; mileage and plant have their rates here. */
const props = defineProps<{ adding: boolean; asOf: string }>()
const { busy, said, wrong, add, once } = useAdd()
const { data, isLoading } = useQuery({
  queryKey: ['prices', () => props.asOf],
  queryFn: () => answered(client.GET('/api/prices', { params: { query: { on: props.asOf } } })),
})
const kinds = ['material', 'equipment', 'mileage', 'subcontract', 'expense'].map((k) => [k, kindNames[k]!] as const)
const find = ref('')
const rows = computed(() =>
  (data.value ?? []).filter((i) =>
    find.value
      .toLowerCase()
      .split(/\s+/)
      .every((w) => `${i.code} ${i.description}`.toLowerCase().includes(w)),
  ),
)
const open = ref(props.adding)
const blank = () => ({
  code: '',
  description: '',
  category: 'material',
  unit: '',
  unitCost: '',
  sellPrice: '',
  effectiveFrom: props.asOf,
})
const item = reactive(blank())
async function save() {
  if (await once({ ...item }, (body) => answered(client.POST('/api/prices', { body })))) Object.assign(item, blank())
}
/** The item that gets another price from a date on. */
const changing = ref<Schema['PricedItem']>()
const price = reactive({ unitCost: '', sellPrice: '', effectiveFrom: '' })
function change(i: Schema['PricedItem']) {
  changing.value = changing.value?.id === i.id ? undefined : i
  Object.assign(price, { unitCost: i.unitCost ?? '', sellPrice: i.sellPrice ?? '', effectiveFrom: props.asOf })
}
async function savePrice(id: number) {
  const send = ({ key, ...body }: typeof price & { key: string }) =>
    answered(client.POST('/api/prices/{id}/from', { params: { path: { id } }, body: { ...body, priceKey: key } }))
  if (await once({ ...price }, send)) changing.value = undefined
}
const offer = (i: Schema['PricedItem'], active: boolean) =>
  add(() =>
    answered(
      client.PUT('/api/prices/{id}', {
        params: { path: { id: i.id } },
        body: { description: i.description, unit: i.unit, active },
      }),
    ),
  )
</script>

<template>
  <div class="scroll">
    <form v-if="open" class="form-row" aria-label="New item" @submit.prevent="save">
      <Field v-model="item.code" label="Code" :said="wrong.code" class="short" />
      <Field v-model="item.description" label="What it is" :said="wrong.description" />
      <Choose v-model="item.category" label="Kind" :options="kinds" :said="wrong.category" />
      <Field v-model="item.unit" label="Unit" :said="wrong.unit" class="short" />
      <Field v-model="item.unitCost" label="Costs a unit" num :said="wrong.unitCost" class="short" />
      <Field v-model="item.sellPrice" label="Sells at" hint="by markup" num :said="wrong.sellPrice" class="short" />
      <Field v-model="item.effectiveFrom" label="from" type="date" :said="wrong.effectiveFrom" />
      <v-btn class="go" type="submit" :loading="busy">Put it on the list</v-btn>
      <v-btn @click="open = false">Close</v-btn>
    </form>
    <div class="bar">
      <input v-model="find" type="search" aria-label="Find on the list" placeholder="find by code or name" />
      <span class="soft">{{ counted(rows.length, 'item') }}</span>
      <span v-if="said && !changing" class="said" role="alert">{{ said }}</span>
      <v-btn v-if="!open" class="small go add" @click="open = true">New item</v-btn>
    </div>
    <table class="ledger" aria-label="Price list">
      <colgroup>
        <col style="width: 110px" />
        <col />
        <col style="width: 120px" />
        <col style="width: 60px" />
        <col style="width: 110px" />
        <col style="width: 170px" />
        <col style="width: 110px" />
        <col style="width: 90px" />
        <col style="width: 190px" />
      </colgroup>
      <thead>
        <tr>
          <th scope="col">Code</th>
          <th scope="col">What it is</th>
          <th scope="col">Kind</th>
          <th scope="col">Unit</th>
          <th scope="col" class="num money">Costs</th>
          <th scope="col">Since</th>
          <th scope="col" class="num">Sells at</th>
          <th scope="col" class="num">Margin</th>
          <th scope="col"><span class="sr">Change</span></th>
        </tr>
      </thead>
      <tbody>
        <template v-for="i in rows" :key="i.id">
          <tr :class="{ retired: !i.active, open: changing?.id === i.id }">
            <td>{{ i.code }}</td>
            <td>{{ i.description }}</td>
            <td :class="`kind-${i.category}`"><i class="swatch"></i>{{ kindNames[i.category] }}</td>
            <td>{{ i.unit }}</td>
            <td class="num money"><Amount :of="i.unitCost" /></td>
            <td class="soft">
              <template v-if="i.since">{{ longDay(i.since) }}{{ i.paid ? ', paid last' : '' }}</template
              ><template v-else>not yet at this date</template>
            </td>
            <td class="num">
              <Amount v-if="i.sellPrice" :of="i.sellPrice" /><span v-else class="soft">by markup</span>
            </td>
            <td class="num" :class="i.belowCost ? 'warnword' : 'soft'">
              <i v-if="i.belowCost" class="flag" title="sells below cost"></i>{{ percent(i.margin) }}
            </td>
            <td class="acts">
              <button class="lnk" @click="change(i)">New price</button>
              <button class="lnk" @click="offer(i, !i.active)">{{ i.active ? 'Retire' : 'Offer again' }}</button>
            </td>
          </tr>
          <tr v-if="changing?.id === i.id" class="more">
            <td colspan="9">
              <form class="form-row" :aria-label="`New price of ${i.code}`" @submit.prevent="savePrice(i.id)">
                <Field v-model="price.unitCost" label="Costs a unit" num :said="wrong.unitCost" class="short" />
                <Field
                  v-model="price.sellPrice"
                  label="Sells at"
                  hint="by markup"
                  num
                  :said="wrong.sellPrice"
                  class="short"
                />
                <Field v-model="price.effectiveFrom" label="from" type="date" :said="wrong.effectiveFrom" />
                <v-btn class="go" type="submit" :loading="busy">Take this price</v-btn>
                <span class="soft">What is on papers already stays as it is.</span>
                <span v-if="said" class="said" role="alert">{{ said }}</span>
              </form>
            </td>
          </tr>
        </template>
      </tbody>
    </table>
    <p v-if="isLoading" class="empty soft" role="status">Opening the price list…</p>
    <p v-else-if="!data?.length" class="empty soft">
      Nothing is on the list yet. What you put here is offered while typing a paper: materials with what they usually
      cost and sell at, miles and plant with their rates by date.
    </p>
    <p v-else class="key">
      What is bought follows what was paid last; mileage and plant keep the rates that stand here.
    </p>
  </div>
</template>

<style scoped>
.bar {
  display: flex;
  gap: 16px;
  align-items: center;
  padding: 8px 16px;
}
.bar input {
  width: 220px;
  height: 26px;
  border: 0;
  border-bottom: 1px solid var(--ink);
  background: none;
}
.add {
  margin-left: auto;
}
.retired td {
  color: var(--ink-soft);
  text-decoration: line-through;
}
.retired .acts {
  text-decoration: none;
}
.acts .lnk {
  margin-right: 14px;
}
.ledger .more td {
  height: auto;
  padding: 0;
  background: var(--paper-back);
}
</style>
