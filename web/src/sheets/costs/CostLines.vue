<script setup lang="ts">
import { useMediaQuery } from '@vueuse/core'
import { computed, ref } from 'vue'
import type { Schema } from '@/api/client'
import Amount from '@/parts/Amount.vue'
import FigureInput from '@/parts/FigureInput.vue'
import OrMeant from '@/parts/OrMeant.vue'
import Pick from '@/parts/Pick.vue'
import { counted, figure, percent } from '@/parts/figures'
import { figureWidth, sized } from '@/parts/ledger'
import { usePlaces } from '@/parts/places'
import { readPasted, type Known, type Pasted } from './pasted'
import PastePreview from './PastePreview.vue'
import { blankLine, lineKey, type Document, type Line } from './document'
import LineMore from './LineMore.vue'
import type { usePriceList } from './prices'

/** The lines of a paper like a ledger, and what they come to, worked out while typing. */
const typed = defineModel<Document>({ required: true })
const props = defineProps<{
  shown?: Document
  wrong: Record<string, string>
  choices: Schema['Choices']
  locked: string
  /** The spare columns make room for a scan. */
  narrow?: boolean
  prices: ReturnType<typeof usePriceList>
}>()
const emit = defineEmits<{ edited: []; line: [id: number | undefined]; workings: [] }>()

/** Below these widths the spare columns go (see the styles). */
const wide = useMediaQuery('(min-width: 1181px)')
const widest = useMediaQuery('(min-width: 1401px)')
/** Which lines are taxed is asked where the paper has a tax, or where a line is not. */
const taxed = computed(() => Number(typed.value.tax) !== 0 || typed.value.lines?.some((l) => l.taxable === false))
const columns = computed(() => (props.narrow || !wide.value ? 9 : widest.value ? 13 : 11) + (taxed.value ? 1 : 0))
/** Money is never cut: its columns are as wide as the largest sum. */
const moneyWidth = computed(() => {
  const { goods, landed, charge } = props.shown ?? {}
  return sized(figureWidth(Math.max(...[goods, landed, charge].map((sum) => figure(sum).length)), '', 78))
})
const categories = ['material', 'equipment', 'subcontract', 'expense', 'mileage']
const places = usePlaces(() => props.choices)
const jobs = places.jobs
const open = ref<number>()
const at = (i: number, field: string) => props.wrong[`lines[${i}].${field}`]
type Figure = 'quantity' | 'unitCost' | 'markup'
const figureNames: Record<Figure, string> = { quantity: 'quantity', unitCost: 'unit cost', markup: 'markup' }
/** What else a number that was typed in a line was perhaps meant as. */
const doubts = ref<{ of: number; field: Figure; other: string }[]>([])
const doubtsIn = (line: Line) => doubts.value.filter((d) => d.of === lineKey(line))
function doubt(line: Line, field: Figure, other?: string) {
  const of = lineKey(line)
  doubts.value = doubts.value.filter((d) => d.of !== of || d.field !== field)
  if (other) doubts.value.push({ of, field, other })
}
function meant(line: Line, field: Figure, other: string) {
  line[field] = other
  doubt(line, field)
  emit('edited')
}
const wrongIn = (i: number) => Object.entries(props.wrong).filter(([path]) => path.startsWith(`lines[${i}].`))
function addLine() {
  const last = typed.value.lines?.at(-1)
  typed.value.lines = [
    ...(typed.value.lines ?? []),
    { ...blankLine(last?.jobId), category: last?.category ?? 'material' },
  ]
}
function split(i: number, lines: Line[]) {
  typed.value.lines?.splice(i, 1, ...lines)
  open.value = undefined
  emit('edited')
}
const named = (text: string, of: string) => text.trim().toLowerCase() === of.toLowerCase()
const known: Known = {
  job: (text) => props.choices.jobs?.find((j) => named(text, j.number) || named(text, j.name))?.id,
  costCode: (text) => props.choices.costCodes?.find((c) => named(text, c.code))?.id,
}
/** Rows of a spreadsheet, shown as they were read before they become lines, from the line in hand on. */
const pasted = ref<{ at: Line; table: Pasted }>()
function paste(line: Line, event: ClipboardEvent) {
  const table = readPasted(event.clipboardData?.getData('text/plain') ?? '', known)
  if (!table) return
  event.preventDefault()
  pasted.value = { at: line, table }
}
function takePasted(rows: Partial<Line>[]) {
  const like = pasted.value!.at
  const lines = typed.value.lines ?? []
  const at = lines.findIndex((l) => lineKey(l) === lineKey(like))
  const empty = lines.slice(at).findIndex((l) => l.description || l.unitCost)
  const made = rows.map((row) => ({
    ...blankLine(like.jobId),
    category: like.category,
    costCodeId: like.costCodeId,
    ...row,
  }))
  const over = empty < 0 ? lines.length - at : empty
  lines.splice(at, Math.min(over, made.length), ...made)
  pasted.value = undefined
  emit('edited')
}
/** What was typed as a code or a name of the price list becomes that item. */
function take(line: Line) {
  props.prices.take(line)
  emit('edited')
}
/** A cost that is not what the list has. */
function unusual(i: number) {
  const line = props.shown?.lines?.[i]
  return line?.listed?.unitCost && Number(line.unitCost) !== Number(line.listed.unitCost)
}
function drop(i: number) {
  typed.value.lines?.splice(i, 1)
  emit('edited')
}
</script>

<template>
  <div>
    <table class="ledger lines" :class="{ narrow }" aria-label="Lines">
      <colgroup>
        <col />
        <col style="width: 3.75rem" />
        <col style="width: 3rem" />
        <col style="width: 4.5rem" />
        <col :style="moneyWidth" />
        <col style="width: 9rem" />
        <col style="width: 2.125rem" />
        <col v-if="taxed" style="width: 2.25rem" />
        <col style="width: 5rem" class="extra" />
        <col :style="moneyWidth" class="spare" />
        <col style="width: 3.75rem" class="spare" />
        <col style="width: 3.875rem" class="extra" />
        <col :style="moneyWidth" />
        <col style="width: 3.625rem" />
      </colgroup>
      <thead>
        <tr>
          <th scope="col">Description, kind</th>
          <th scope="col" class="num">Quantity</th>
          <th scope="col">Unit</th>
          <th scope="col" class="num">Unit cost</th>
          <th scope="col" class="num">Amount</th>
          <th scope="col">Job</th>
          <th scope="col" class="mk">Bill</th>
          <th v-if="taxed" scope="col" class="mk" title="It has a share of the tax on the paper">Tax</th>
          <th scope="col" class="num money extra">Freight, tax</th>
          <th scope="col" class="num spare">Landed</th>
          <th scope="col" class="num money spare">Markup</th>
          <th scope="col" class="num extra">Margin</th>
          <th scope="col" class="num">Charge</th>
          <th scope="col"><span class="sr">Delete</span></th>
        </tr>
      </thead>
      <tbody>
        <template v-for="(line, i) in typed.lines" :key="lineKey(line)">
          <tr
            :data-cost-line="i"
            :tabindex="locked ? 0 : undefined"
            @focusin="emit('line', line.id)"
            @click="emit('line', line.id)"
            @keydown.enter.self="emit('workings')"
          >
            <td class="what">
              <input
                v-model="line.description"
                class="in-cell"
                list="price-list"
                :title="line.description"
                autocomplete="off"
                :aria-label="`Line ${i + 1}, what`"
                :aria-invalid="!!at(i, 'itemId')"
                @change="take(line)"
                @paste="paste(line, $event)"
              />
              <span :class="`kind-${line.category}`"
                ><i class="swatch"></i
                ><select v-model="line.category" :aria-label="`Line ${i + 1}, kind of cost`">
                  <option v-for="c in categories" :key="c">{{ c }}</option>
                </select></span
              >
            </td>
            <td>
              <FigureInput
                v-model="line.quantity"
                class="in-cell"
                :aria-label="`Line ${i + 1}, quantity`"
                :aria-invalid="!!at(i, 'quantity')"
                @doubt="doubt(line, 'quantity', $event)"
              />
            </td>
            <td>
              <input
                v-model="line.unit"
                list="units"
                autocomplete="off"
                :placeholder="line.itemId ? shown?.lines?.[i]?.unit : ''"
                class="in-cell"
                :aria-label="`Line ${i + 1}, unit`"
              />
            </td>
            <td>
              <FigureInput
                v-model="line.unitCost"
                class="in-cell"
                :placeholder="figure(shown?.lines?.[i]?.unitCost)"
                :aria-label="`Line ${i + 1}, unit cost`"
                :aria-invalid="!!at(i, 'unitCost')"
                @doubt="doubt(line, 'unitCost', $event)"
              /><small v-if="unusual(i)" class="soft">usual {{ figure(shown?.lines?.[i]?.listed?.unitCost) }}</small>
            </td>
            <td class="num"><Amount :of="shown?.lines?.[i]?.base" /></td>
            <td class="pick">
              <Pick
                v-model="line.jobId"
                :label="`Line ${i + 1}, job`"
                :items="jobs"
                hide-label
                placeholder="which job?"
                :disabled="!!locked"
                @update:model-value="emit('edited')"
              />
            </td>
            <td class="mk">
              <input v-model="line.billable" type="checkbox" class="box" :aria-label="`Line ${i + 1}, billable`" />
            </td>
            <td v-if="taxed" class="mk">
              <input v-model="line.taxable" type="checkbox" class="box" :aria-label="`Line ${i + 1}, taxable`" />
            </td>
            <td class="num money extra"><Amount :of="shown?.lines?.[i]?.freightTax" /></td>
            <td class="num spare">
              <button v-if="line.id" type="button" class="open" @click="emit('workings')">
                <Amount :of="shown?.lines?.[i]?.landed" /><span class="sr">, workings of line {{ i + 1 }}</span></button
              ><Amount v-else :of="shown?.lines?.[i]?.landed" />
            </td>
            <td class="money spare">
              <FigureInput
                v-model="line.markup"
                class="in-cell"
                :placeholder="percent(shown?.lines?.[i]?.markupUsed)"
                :title="shown?.lines?.[i]?.markupFrom"
                :aria-label="`Line ${i + 1}, markup percent`"
                :aria-invalid="!!at(i, 'markup')"
                @doubt="doubt(line, 'markup', $event)"
              />
            </td>
            <td class="num soft extra">{{ percent(shown?.lines?.[i]?.margin) }}</td>
            <td class="num">
              <Amount v-if="shown?.lines?.[i]?.charge" :of="shown?.lines?.[i]?.charge" /><span
                v-else-if="shown?.lines?.[i]?.landed"
                class="soft"
                >{{ line.jobId ? 'cost only' : 'none yet' }}</span
              >
            </td>
            <td class="mk two-acts">
              <button
                v-if="!locked"
                type="button"
                class="soft"
                :aria-label="`Line ${i + 1}, phase, code, price, split`"
                :aria-expanded="open === lineKey(line)"
                @click="open = open === lineKey(line) ? undefined : lineKey(line)"
              >
                ⋯
              </button>
              <button type="button" class="soft" :aria-label="`Delete line ${i + 1}`" @click="drop(i)">×</button>
            </td>
          </tr>
          <tr v-for="[path, text] in wrongIn(i)" :key="path">
            <td class="error-line" role="alert" :colspan="columns">{{ text }}</td>
          </tr>
          <tr v-for="d in doubtsIn(line)" :key="d.field">
            <td class="warnword" :colspan="columns" role="status">
              <i class="flag"></i>The {{ figureNames[d.field] }} is read as {{ figure(line[d.field]) }}.
              <OrMeant :other="d.other" @meant="meant(line, d.field, $event)" />
            </td>
          </tr>
          <tr v-if="shown?.lines?.[i]?.noMarkup">
            <td class="warnword" :colspan="columns">
              <i class="flag"></i>{{ shown?.lines?.[i]?.markupFrom }}: charged at cost.
              <router-link class="lnk" to="/setup?part=markups&add=yes">Add a markup</router-link>
            </td>
          </tr>
          <LineMore
            v-if="open === lineKey(line) && !locked"
            v-model="typed.lines![i]!"
            :date="typed.date"
            :choices="choices"
            :wrong="wrong"
            :index="i"
            :columns="columns"
            :hint="shown?.lines?.[i]?.markupFrom"
            :listed="shown?.lines?.[i]?.listed"
            @edited="emit('edited')"
            @split="split(i, $event)"
            @close="open = undefined"
          />
        </template>
        <tr v-if="!locked">
          <td :colspan="columns">
            <button type="button" class="lnk" @click="addLine">Add a line</button
            ><span v-if="wrong.lines" class="said" role="alert"> {{ wrong.lines }}</span>
          </td>
        </tr>
      </tbody>
      <tfoot>
        <tr>
          <th scope="row">{{ counted(shown?.lines?.filter((l) => l.landed).length ?? 0, 'line') }}</th>
          <td colspan="3"></td>
          <td class="num"><Amount :of="shown?.goods" /></td>
          <td :colspan="taxed ? 3 : 2"></td>
          <td class="num money extra"><Amount :of="shown?.spread" /></td>
          <td class="num spare"><Amount :of="shown?.landed" /></td>
          <td class="money spare"></td>
          <td class="extra"></td>
          <td class="num"><Amount :of="shown?.charge" /></td>
          <td></td>
        </tr>
      </tfoot>
    </table>
    <PastePreview v-if="pasted" :pasted="pasted.table" :known="known" @take="takePasted" @close="pasted = undefined" />
    <datalist id="units">
      <option v-for="u in choices.units" :key="u.code" :value="u.name">{{ u.what }}</option>
    </datalist>
    <datalist id="price-list">
      <option v-for="i in prices.offered.value" :key="i.id" :value="i.description">
        {{ i.code }}, {{ figure(i.unitCost) }} {{ i.unit }}
      </option>
    </datalist>
  </div>
</template>

<style scoped>
.open:hover {
  text-decoration: underline;
}
.lines :is(th, td) {
  padding: 0 4px;
}
.lines .pick {
  overflow: visible;
}
.narrow :is(.spare, .extra) {
  display: none;
}
@media (max-width: 1400px) {
  .extra {
    display: none; /* the Workings say these too */
  }
}
@media (max-width: 1180px) {
  .spare {
    display: none; /* the Workings say these */
  }
}
.lines tbody tr[data-cost-line] > td {
  height: 3.125rem;
}
.two-acts button {
  min-width: 1.5rem;
  height: 1.5rem;
}
.what .in-cell {
  height: 1.5rem;
  border-bottom-color: transparent;
  padding: 0 2px;
}
.what span {
  display: flex;
  align-items: center;
  font-size: var(--t-sub);
  line-height: 0.8125rem;
  color: var(--ink-soft);
  padding-left: 2px;
}
.what select {
  border: 0;
  background: none;
  height: 1.5rem;
  padding: 0;
  color: inherit;
}
.what .swatch {
  width: 7px;
  height: 7px;
}
td small {
  display: block;
  text-align: right;
  font-size: var(--t-sub);
  line-height: 0.8125rem;
}
</style>
