<script setup lang="ts" generic="R extends object">
import { shallowRef } from 'vue'
import { drawnIn } from '@/book/form'
import { useScope } from '@/book/scope'
import DateField from './DateField.vue'
import FigureInput from './FigureInput.vue'
import OrMeant from './OrMeant.vue'
import { pastedBlock } from './clipboard'
import { fillRows, type RowField } from './formRows'
import { alsoRead } from './reading'

/** Rows that are typed in a form: a field a column, with what is wrong under its row; rows can be added and deleted. */
const props = defineProps<{
  label: string
  fields: RowField<R>[]
  blank: () => R
  /** The name that the book has for the rows, in what it says is wrong with them. */
  name: string
  wrong: Record<string, string>
  /** What adds a row. */
  another?: string
}>()
const scope = useScope()
const rows = defineModel<R[]>({ required: true })
drawnIn(`${props.name}[`, { label: props.label })
const at = (i: number, field: string) => props.wrong[`${props.name}[${i}].${field}`]
const said = (i: number) => props.fields.map((f) => at(i, f.id)).find(Boolean)
const text = (row: R, field: RowField<R>) => String((row as Record<string, unknown>)[field.id] ?? '')
function set(row: R, field: RowField<R>, to: string | boolean) {
  ;(row as Record<string, unknown>)[field.id] = field.number ? Number(to) : to
}
/** What else numbers that were typed or pasted were perhaps meant as; the first of a row is asked about. */
const doubts = shallowRef<{ row: R; field: RowField<R>; other: string }[]>([])
const doubtOf = (row: R) => doubts.value.find((d) => d.row === row)
function asked(row: R, field: RowField<R>, other?: string) {
  const others = doubts.value.filter((d) => d.row !== row || d.field !== field)
  doubts.value = other ? [...others, { row, field, other }] : others
}
function meant(row: R, other: string) {
  const { field } = doubtOf(row)!
  set(row, field, other)
  asked(row, field)
}
/** Several cells of a spreadsheet go into as many fields, from where they are pasted on. */
function paste(event: ClipboardEvent) {
  const block = pastedBlock(event)
  const cell = (event.target as HTMLElement).closest<HTMLTableCellElement>('td')
  const row = cell?.closest<HTMLElement>('tr')?.dataset.at
  if (!cell || row === undefined || block.flat().length < 2) return
  event.preventDefault()
  const from = { row: Number(row), field: cell.cellIndex }
  fillRows(rows.value, props.fields, from, block, props.blank, scope.today.value)
  block.forEach((cells, down) =>
    cells.forEach((text, right) => {
      const field = props.fields[from.field + right]
      if (field?.kind === 'figure') asked(rows.value[from.row + down]!, field, alsoRead(text))
    }),
  )
}
const there = (field: RowField<R>, row: R) => !field.when || field.when(row)
</script>

<template>
  <div class="form-rows">
    <table v-if="rows.length || !another" :aria-label="label">
      <thead>
        <tr>
          <th
            v-for="f in fields"
            :key="f.id"
            scope="col"
            :class="{ n: f.kind === 'figure' }"
            :style="f.width ? `width: ${f.width / 16}rem` : ''"
            :title="f.title"
          >
            {{ f.label }}
          </th>
          <th><span class="sr">Delete</span></th>
        </tr>
      </thead>
      <tbody @paste="paste">
        <template v-for="(r, i) in rows" :key="i">
          <tr :data-at="i">
            <td v-for="f in fields" :key="f.id" :class="{ n: f.kind === 'figure' }">
              <template v-if="there(f, r)">
                <select
                  v-if="f.kind === 'choice'"
                  :value="text(r, f)"
                  :aria-label="`${f.label} of row ${i + 1}`"
                  :aria-invalid="!!at(i, f.id)"
                  @change="set(r, f, ($event.target as HTMLSelectElement).value)"
                >
                  <option v-for="[value, called] in f.options" :key="value" :value="value">{{ called }}</option>
                </select>
                <FigureInput
                  v-else-if="f.kind === 'figure'"
                  :model-value="text(r, f)"
                  :aria-label="`${f.label} of row ${i + 1}`"
                  :aria-invalid="!!at(i, f.id)"
                  :aria-describedby="said(i) ? `${name}-${i}-said` : undefined"
                  @update:model-value="set(r, f, $event ?? '')"
                  @doubt="asked(r, f, $event)"
                />
                <DateField
                  v-else-if="f.kind === 'date'"
                  :id="`${name}-${i}-${f.id}`"
                  :model-value="text(r, f)"
                  :wrong="!!at(i, f.id)"
                  :said="`${name}-${i}-said`"
                  :label="`${f.label} of row ${i + 1}`"
                  @update:model-value="set(r, f, $event ?? '')"
                />
                <input
                  v-else-if="f.kind === 'check'"
                  type="checkbox"
                  class="box"
                  :checked="text(r, f) === 'true'"
                  :aria-label="`${f.label} of row ${i + 1}`"
                  @change="set(r, f, ($event.target as HTMLInputElement).checked)"
                />
                <input
                  v-else
                  :value="text(r, f)"
                  :aria-label="`${f.label} of row ${i + 1}`"
                  :aria-invalid="!!at(i, f.id)"
                  autocomplete="off"
                  @input="set(r, f, ($event.target as HTMLInputElement).value)"
                />
              </template>
            </td>
            <td>
              <button
                type="button"
                class="soft"
                :aria-label="`Delete row ${i + 1}`"
                title="Delete the row"
                @click="rows.splice(i, 1)"
              >
                ×
              </button>
            </td>
          </tr>
          <tr v-if="doubtOf(r)">
            <td :colspan="fields.length + 1"><OrMeant :other="doubtOf(r)!.other" @meant="meant(r, $event)" /></td>
          </tr>
          <tr v-if="said(i)">
            <td :id="`${name}-${i}-said`" :colspan="fields.length + 1" class="said">{{ said(i) }}</td>
          </tr>
        </template>
      </tbody>
    </table>
    <button type="button" class="lnk" @click="rows.push(blank())">{{ another ?? 'Add a row' }}</button>
  </div>
</template>

<style scoped>
.form-rows {
  flex-basis: 100%;
}
table {
  width: min(56rem, 100%);
  border-collapse: collapse;
  table-layout: fixed;
}
.form-rows thead th {
  position: static;
  height: auto;
  padding: 0 12px 2px 0;
  border: 0;
  background: none;
  text-align: left;
  font-size: var(--t-small);
  font-weight: 400;
  color: var(--ink-soft);
}
.n {
  text-align: right;
  width: 7.5rem;
}
.form-rows thead th.n {
  text-align: right;
}
th:last-child {
  width: 1.75rem;
}
.form-rows tbody td {
  padding: 2px 12px 2px 0;
  border: 0;
}
td > :is(select, input:not(.box)) {
  width: 100%;
  height: 1.625rem;
  border: 0;
  border-bottom: 1.5px solid var(--ink);
  background: none;
  color: var(--ink);
  font-size: 0.875rem;
  font-weight: 580;
}
.lnk {
  min-height: 1.5rem;
}
td > .box {
  vertical-align: middle;
}
.n > input {
  text-align: right;
}
</style>
