<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { answered, client, type Schema } from '@/api/client'
import { useForm } from '@/book/form'
import { useScope } from '@/book/scope'
import Await from '@/parts/Await.vue'
import EditCard from '@/parts/EditCard.vue'
import FormCard from '@/parts/FormCard.vue'
import FormField from '@/parts/FormField.vue'
import Ledger from '@/parts/Ledger.vue'
import { addressOf } from '@/parts/addresses'
import { useEdit } from '@/parts/edit'
import { counted, kindNames } from '@/parts/figures'
import type { Column } from '@/parts/ledger'
import { terms } from '@/book/english'
import { useAdding } from './adding'
import MergeInto from './MergeInto.vue'

/** Suppliers: who things are bought from, and what is usual for each. Two that are one are merged. */
const props = defineProps<{ choices: Schema['Choices']; adding: boolean }>()
const scope = useScope()
const asked = useQuery({ queryKey: ['setup', 'suppliers'], queryFn: () => answered(client.GET('/api/suppliers')) })
const open = useAdding(
  () => props.adding,
  () => asked.data.value?.length === 0,
)
const blank = () => ({ name: '', category: '', costCode: '', termsDays: '' })
const form = useForm({ blank, send: (body) => answered(client.POST('/api/suppliers', { body })) })
type Row = Schema['SupplierRow']
const edit = useEdit({
  typed: (s: Row) => ({
    name: s.name,
    category: s.category ?? '',
    costCode: s.costCode ?? '',
    termsDays: s.termsDays ?? '',
    active: s.active,
  }),
  put: (s, body, query) => answered(client.PUT('/api/suppliers/{id}', { params: { path: { id: s.id }, query }, body })),
  remove: (s, body) => answered(client.POST('/api/suppliers/{id}/delete', { params: { path: { id: s.id } }, body })),
})
const kinds = [
  ['', 'as lately'] as const,
  ...['material', 'equipment', 'subcontract', 'expense'].map((k) => [k, kindNames[k]!] as const),
]
const codes = computed(() => [
  ['', 'as lately'] as const,
  ...(props.choices.costCodes ?? []).filter((c) => !c.retired).map((c) => [c.code!, `${c.code} ${c.name}`] as const),
])
const columns: Column<Row>[] = [
  { id: 'name', label: 'Supplier', value: (s) => s.name, tone: 'strong' },
  {
    id: 'category',
    label: 'Usually',
    width: 130,
    value: (s) => (s.category ? kindNames[s.category] : ''),
    tone: 'soft',
  },
  { id: 'code', label: 'Cost code', width: 110, value: (s) => s.costCode, tone: 'soft' },
  {
    id: 'terms',
    label: 'Terms',
    kind: 'number',
    width: 100,
    value: (s) => s.termsDays,
    text: (s) => (s.termsDays ? terms(s.termsDays) : ''),
  },
  { id: 'papers', label: 'Papers', kind: 'number', width: 90, value: (s) => s.papers },
  { id: 'last', label: 'Last', kind: 'date', width: 130, value: (s) => s.last },
  { id: 'acts', label: 'Change', width: 90, value: () => '', acts: true },
]
</script>

<template>
  <section class="listing">
    <FormCard v-if="open" :form="form" label="New supplier" submit="Add supplier" cancel="Close" @cancel="open = false">
      <FormField label="Name" name="name" size="wide" />
      <FormField label="Usually buys" name="category" kind="choice" :options="kinds" />
      <FormField label="Usual cost code" name="costCode" kind="choice" :options="codes" />
      <FormField label="Terms" name="termsDays" kind="number" hint="not known" unit="days" size="short" />
    </FormCard>
    <Await v-slot="{ data }" :of="asked" what="the suppliers">
      <Ledger
        name="suppliers"
        label="Suppliers"
        of="supplier"
        :columns="columns"
        :rows="data ?? []"
        :row-key="(s) => s.id"
        :find="scope.text('find')"
        :opened="edit.row.value?.id"
      >
        <template #tools><v-btn v-if="!open" class="small go" @click="open = true">New supplier</v-btn></template>
        <template #name="{ row }"
          ><router-link :to="addressOf({ kind: 'supplier', id: row.id })">{{ row.name }}</router-link
          ><span v-if="!row.active" class="soft"> retired</span></template
        >
        <template #acts="{ row }"><button class="lnk" @click="edit.open(row)">Change</button></template>
        <template #below="{ row }">
          <EditCard :edit="edit" :now="row" :label="`Change ${row.name}`">
            <FormField label="Name, on all of its papers" name="name" size="wide" />
            <FormField label="Usually buys" name="category" kind="choice" :options="kinds" />
            <FormField label="Usual cost code" name="costCode" kind="choice" :options="codes" />
            <FormField label="Terms" name="termsDays" kind="number" hint="not known" unit="days" size="short" />
            <FormField label="Offered" name="active" kind="check" />
          </EditCard>
          <MergeInto
            :goes="row"
            :all="data ?? []"
            :sub="(id) => counted(data!.find((s) => s.id === id)!.papers, 'paper')"
            :sure="`Its ${counted(row.papers, 'paper')} ${row.papers === 1 ? 'goes' : 'go'} to the other one. It can't be undone.`"
            :send="
              (id, body, query) =>
                answered(client.POST('/api/suppliers/{id}/merge', { params: { path: { id }, query }, body }))
            "
            @merged="edit.close()"
          />
        </template>
        <template #empty>No supplier yet. A name that is typed on a paper makes one.</template>
        <template #key
          ><p v-if="data?.length" class="key">
            What is usual goes on the lines of a new paper; blank is what the last papers had.
          </p></template
        >
      </Ledger>
    </Await>
  </section>
</template>
